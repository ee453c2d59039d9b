#include "core/evaluate/plan.h"

#include <glm/common.hpp>

#include "core/base/error.h"
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

std::size_t bytesOf(const ShapeMeshes& meshes) {
    std::size_t bytes = sizeof meshes;
    for (const Mesh& m : meshes.level) bytes += m.positions.size() * 32 + m.triangles.size() * 4;
    return bytes;
}

std::shared_ptr<const ShapeMeshes> makeMeshes(const Object& shape, double frame, const PlanOptions& options, Store& store) {
    const Part& part = shape.part("maker");
    const ResolvedPart maker = resolve(part, frame);
    const auto& kind = static_cast<const ShapeKind&>(*maker.kind);
    ContentHash key;
    key.add(maker.hash);
    if (const int file = kind.indexOf("file"); file >= 0) {
        const std::string& typed = std::get<std::string>(part.values[static_cast<std::size_t>(file)]);
        if (!typed.empty()) {
            const auto path = pathInProject(typed, options.source);
            key.add(path.string());
            key.add(static_cast<std::uint64_t>(std::filesystem::last_write_time(path).time_since_epoch().count()));
        }
    }
    const std::function<std::shared_ptr<const ShapeMeshes>()> make = [&] {
        auto made = std::make_shared<ShapeMeshes>();
        for (int d = 0; d < detailLevels; ++d) made->level[static_cast<std::size_t>(d)] = kind.make(maker.data.get(), d, options.source);
        made->bounds = boundsOf(made->level[0]);
        return std::shared_ptr<const ShapeMeshes>(std::move(made));
    };
    try {
        return store.get<ShapeMeshes>(key.value(), make, bytesOf);
    } catch (const Error& error) {
        throw Error(shape.name + ": " + error.what());
    }
}

Variant prepareVariant(const Scene& scene, const Object& entry, double frame, const PlanOptions& options, Store& store) {
    const auto resolved = resolve(entry.part("entry"), frame);
    const auto& stock = resolved.as<StockEntry>();
    const Object* shape = scene.find(stock.shape);
    if (!shape) throw Error("“" + entry.name + "” in the stock has lost its shape; choose another one in the Stock card.");
    Variant variant{entry.id,    stock.shape,    makeMeshes(*shape, frame, options, store), stock.size, {}, stock.colour,
                    stock.metal, stock.roughness};
    const Bounds& bounds = variant.meshes->bounds;
    switch (stock.foot) {
        case Foot::base:
            variant.foot = {bounds.centre().x, bounds.low.y, bounds.centre().z};
            break;
        case Foot::centre:
            variant.foot = bounds.centre();
            break;
        case Foot::point:
            variant.foot = stock.footPoint;
            break;
    }
    return variant;
}

std::shared_ptr<const Bounds> homeBounds(const Plan& plan, std::uint64_t hash, Store& store, Progress& progress) {
    ContentHash key;
    key.add("home bounds");
    key.add(hash);
    const std::function<std::shared_ptr<const Bounds>()> make = [&] {
        auto bounds = std::make_shared<Bounds>();
        const auto homes = std::make_unique<HomeColumns>();
        for (int first = 0; first < plan.count; first += blockSize) {
            progress.check();
            const HomeRange range{first, std::min(blockSize, plan.count - first), plan.count};
            plan.formation->place(plan.formationData.get(), range, *homes);
            for (int i = 0; i < range.count; ++i) {
                const glm::vec3 p(homes->position.x[i], homes->position.y[i], homes->position.z[i]);
                bounds->low = glm::min(bounds->low, p);
                bounds->high = glm::max(bounds->high, p);
            }
        }
        return std::shared_ptr<const Bounds>(std::move(bounds));
    };
    return store.get<Bounds>(key.value(), make, [](const Bounds&) { return sizeof(Bounds); });
}

std::string grouped(double n) {
    std::string digits = std::to_string(static_cast<long long>(n));
    for (int at = static_cast<int>(digits.size()) - 3; at > 0; at -= 3) digits.insert(static_cast<std::size_t>(at), " ");
    return digits;
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

double instanceCount(const Scene& scene, ObjectId swarm, double frame) {
    const auto formation = resolve(formationOf(scene, scene.at(swarm)).part("formation"), frame);
    return static_cast<const FormationKind&>(*formation.kind).count(formation.data.get());
}

Plan prepare(const Scene& scene, ObjectId swarmId, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    const Object& swarm = scene.at(swarmId);
    const double count = instanceCount(scene, swarmId, frame);
    if (count > mostInstances)
        throw Error("“" + swarm.name + "” would have " + grouped(count) + " instances, more than the " + grouped(mostInstances) +
                    " that are tried; lower its counts.");
    if (swarm.list("rail").size() > mostCards)
        throw Error("“" + swarm.name + "” has more than " + std::to_string(mostCards) + " cards in its rail; split it in two swarms.");
    if (swarm.list("stock").empty()) throw Error("“" + swarm.name + "” has nothing to repeat; add a shape in the Stock card.");
    const auto place = resolve(swarm.part("place"), frame);
    const auto& pose = place.as<SwarmPlace>();
    const auto formation = resolve(formationOf(scene, swarm).part("formation"), frame);
    Plan plan;
    plan.swarm = swarmId;
    plan.moment = momentAt(scene, frame);
    plan.position = pose.position;
    plan.rotation = rotationFromTurns(pose.rotation);
    plan.scale = pose.scale;
    plan.shown = pose.shown;
    plan.formation = static_cast<const FormationKind*>(formation.kind);
    plan.formationData = formation.data;
    plan.count = static_cast<int>(count);
    plan.homes = *homeBounds(plan, formation.hash, store, progress);
    for (const ObjectId id : swarm.list("stock")) {
        progress.check();
        plan.variants.push_back(prepareVariant(scene, scene.at(id), frame, options, store));
    }
    for (const ObjectId id : swarm.list("rail")) plan.cards.push_back(prepareCard(scene, scene.at(id), options, frame));
    return plan;
}

}  // namespace gswarm
