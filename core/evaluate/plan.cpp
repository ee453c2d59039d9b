#include "core/evaluate/plan.h"

#include <glm/common.hpp>

#include "core/base/error.h"
#include "core/evaluate/shapes.h"
#include "core/evaluate/store.h"

namespace gswarm {
namespace {

constexpr double radiansPerDegree = 3.14159265358979323846 / 180;

const Object& formationOf(const Scene& scene, const Object& swarm) { return scene.at(referenceOf(swarm.part("place"), "formation")); }

const Numbers& numbersOf(const Part& part, std::string_view parameter) { return std::get<Numbers>(part[parameter]); }

bool keyed(const Part& part) {
    for (const Value& value : part.values)
        if (const auto* numbers = std::get_if<Numbers>(&value))
            for (const Track& track : *numbers)
                if (track.keyed()) return true;
    return false;
}

/// The keyed numbers of the change that a stagger spreads over time, with their units applied to the keys.
void compileLanes(const Part& change, Card& card) {
    const auto compileOne = [&](std::string_view parameter, int first, double unit) {
        const Numbers& numbers = numbersOf(change, parameter);
        for (std::size_t c = 0; c < numbers.size(); ++c) {
            if (!numbers[c].keyed()) continue;
            TrackPieces pieces = compile(numbers[c]);
            for (auto& piece : pieces.pieces)
                for (float* coefficient : {&piece.c0, &piece.c1, &piece.c2, &piece.c3})
                    *coefficient = static_cast<float>(*coefficient * unit);
            card.lanes[static_cast<std::size_t>(first) + c] = std::move(pieces);
        }
    };
    compileOne("strength", strengthNumber, 0.01);
    compileOne("positionAmount", positionNumber, 1);
    compileOne("rotationAmount", rotationNumber, radiansPerDegree);
    compileOne("scaleAmount", scaleNumber, 1);
    compileOne("colourAmount", colourNumber, 1);  // encoded; the flow decodes
}

WeaveStep prepareWeave(const Object& zone, const WeaveEntry& entry, const Card& card, double frame) {
    WeaveStep step;
    step.kind = static_cast<const ZoneKind*>(zone.part("form").kind);
    step.operation = entry.operation;
    step.amount = entry.amount / 100;
    step.firstFrame = frame;
    const bool moves = keyed(zone.part("place")) || keyed(zone.part("form"));
    if (card.stagger.by == StaggerBy::none || !moves) {
        step.states.push_back(zoneStateAt(zone, frame));
        return step;
    }
    const double earliest = frame - std::max(card.stagger.over, 0.0f), latest = frame - std::min(card.stagger.over, 0.0f);
    step.firstFrame = std::floor(earliest);
    for (double f = step.firstFrame; f <= std::ceil(latest) + 1; ++f) step.states.push_back(zoneStateAt(zone, f));
    return step;
}

Card prepareCard(const Scene& scene, const Object& railEntry, const PlanOptions& options, double frame) {
    const auto entry = resolve(railEntry.part("entry"), frame);
    const Object& gesture = scene.at(entry.as<RailEntry>().gesture);
    Card card;
    card.entry = railEntry.id;
    card.gesture = gesture.id;
    card.acts = entry.as<RailEntry>().on && (!options.solo || options.solo == railEntry.id);
    card.change = resolve(gesture.part("change"), frame);
    card.pattern = resolve(gesture.part("pattern"), frame);
    card.where = resolve(gesture.part("where"), frame).as<Response>();
    card.shaped = resolve(gesture.part("shaped"), frame).as<Response>();
    card.stagger = resolve(gesture.part("when"), frame).as<Stagger>();
    const Change& change = card.changes();
    const float numbers[changeNumberCount] = {
        change.strength / 100,   change.positionAmount.x, change.positionAmount.y, change.positionAmount.z, change.rotationAmount.x,
        change.rotationAmount.y, change.rotationAmount.z, change.scaleAmount.x,    change.scaleAmount.y,    change.scaleAmount.z,
        change.colourAmount.x,   change.colourAmount.y,   change.colourAmount.z,   change.colourAmount.w};
    std::copy(std::begin(numbers), std::end(numbers), card.numbers.begin());
    if (card.stagger.by != StaggerBy::none) compileLanes(gesture.part("change"), card);
    for (const ObjectId id : gesture.list("weave")) {
        const auto weave = resolve(scene.at(id).part("entry"), frame);
        const Object* zone = scene.find(weave.as<WeaveEntry>().zone);
        if (!zone || !weave.as<WeaveEntry>().on || !switchOf(zone->part("place"), "on")) continue;
        card.weave.push_back(prepareWeave(*zone, weave.as<WeaveEntry>(), card, frame));
    }
    return card;
}

/// What the makers of the shapes that a formation stands on have to say.
void addNotes(const Scene& scene, const Object& formation, const Shapes& shapes, std::vector<std::string>& notes) {
    for (const Value& value : formation.part("formation").values) {
        const auto* id = std::get_if<ObjectId>(&value);
        if (!id || id->type() != ObjectType::shape || !scene.find(*id)) continue;
        if (const auto shape = shapes.get(*id); !shape->note.empty()) notes.push_back(scene.at(*id).name + ": " + shape->note);
    }
}

}  // namespace

glm::quat rotationFromTurns(const glm::vec3& radians) {
    return glm::angleAxis(radians.z, glm::vec3(0, 0, 1)) * glm::angleAxis(radians.y, glm::vec3(0, 1, 0)) *
           glm::angleAxis(radians.x, glm::vec3(1, 0, 0));
}

ZoneState zoneStateAt(const Object& zone, double frame) {
    const auto resolved = resolve(zone.part("place"), frame);
    const auto& pose = resolved.as<Pose>();
    ZoneState state{pose.position, rotationFromTurns(pose.rotation), {}};
    const Part& form = zone.part("form");
    std::size_t next = 0;
    for (std::size_t i = 0; i < form.values.size(); ++i)
        if (const auto* numbers = std::get_if<Numbers>(&form.values[i]))
            for (const Track& track : *numbers) state.numbers[next++] = static_cast<float>(valueAt(track, frame));
    return state;
}

Plan prepare(const Scene& scene, ObjectId swarmId, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    const Object& swarm = scene.at(swarmId);
    if (swarm.list("rail").size() > mostCards)
        throw Error("“" + swarm.name + "” has more than " + std::to_string(mostCards) + " cards in its rail; split it in two swarms.");
    const Object& formation = formationOf(scene, swarm);
    const SwarmPose pose = swarmPoseAt(scene, swarmId, frame);
    const Shapes shapes(scene, frame, options.projectFolder, store, progress);
    Plan plan;
    plan.swarm = swarmId;
    plan.moment = momentAt(scene, frame);
    plan.position = pose.position;
    plan.rotation = pose.rotation;
    plan.scale = pose.scale;
    plan.shown = switchOf(swarm.part("place"), "shown");
    plan.home = prepareHomes(scene, swarmId, formation, frame, options, store, progress);
    plan.count = plan.home.count;
    plan.homes = plan.home.bounds;
    plan.stock = prepareStock(scene, swarm, frame, shapes, plan.home);
    plan.backdrops = backdropsOf(scene, swarmId, frame, shapes);
    addNotes(scene, formation, shapes, plan.notes);
    for (const std::string& note : {plan.home.note, plan.stock.note})
        if (!note.empty()) plan.notes.push_back(note);
    for (const ObjectId id : swarm.list("rail")) plan.cards.push_back(prepareCard(scene, scene.at(id), options, frame));
    return plan;
}

}  // namespace gswarm
