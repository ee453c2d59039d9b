#include "core/evaluate/rail_plan.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>

#include "core/base/error.h"

namespace gswarm {
namespace {

constexpr double radiansPerDegree = 3.14159265358979323846 / 180;

bool keyed(const Part& part) {
    for (const Value& value : part.values)
        if (const auto* numbers = std::get_if<Numbers>(&value))
            for (const Track& track : *numbers)
                if (track.keyed()) return true;
    return false;
}

double unitOf(const Parameter& p) { return p.type == ParameterType::angle ? radiansPerDegree : p.unit == "%" ? 0.01 : 1; }

/// The numbers that may differ per instance, in the order of the table and in kernel units; those that are keyed as
/// pieces too where instances have times of their own.
void readNumbers(const Part& change, double frame, Card& card) {
    int at = 0;
    for (std::size_t i = 0; i < change.values.size(); ++i) {
        const Parameter& p = change.kind->parameters[i];
        if (!p.perInstance) continue;
        const auto& numbers = std::get<Numbers>(change.values[i]);
        const bool colour = p.type == ParameterType::colour;
        if (colour) card.colourAt = at;
        for (std::size_t c = 0; c < numbers.size(); ++c, ++at) {
            const double typed = std::clamp(valueAt(numbers[c], frame), p.hard.low, p.hard.high);
            card.numbers[static_cast<std::size_t>(at)] = static_cast<float>(colour && c < 3 ? linearFromSrgb(typed) : typed * unitOf(p));
            if (!card.ownTime || !numbers[c].keyed()) continue;
            TrackPieces pieces = compile(numbers[c]);
            for (auto& piece : pieces.pieces)
                for (float* coefficient : {&piece.c0, &piece.c1, &piece.c2, &piece.c3})
                    *coefficient = static_cast<float>(*coefficient * unitOf(p));
            card.lanes[static_cast<std::size_t>(at)] = std::move(pieces);
        }
    }
    card.numberCount = at;
}

/// What the preparing of one card needs to know beside the scene.
struct Preparing {
    const Scene& scene;
    RailSource& source;
    double earliest, latest;  ///< frames: between these lie the instances' own times
    Card& card;

    double frame() const { return source.moment.frame; }
};

void addState(ContentHash& hash, const ZoneState& state) {
    for (const float v :
         {state.position.x, state.position.y, state.position.z, state.rotation.x, state.rotation.y, state.rotation.z, state.rotation.w})
        hash.add(double(v));
    for (const float v : state.numbers) hash.add(double(v));
}

/// A zone at the frame, or at every whole frame that an instance may see it at.
void addZone(const Preparing& p, const Object& zone, WeaveStep& step) {
    ResolvedPart form = resolve(zone.part("form"), p.frame());
    step.kind = static_cast<const ZoneKind*>(form.kind);
    step.off = !switchOf(zone.part("place"), "on");
    p.source.hash->add(form.hash);
    p.source.hash->add(std::uint64_t{step.off});
    if (!step.off && step.kind->prepare) step.kind->prepare(form.data.get(), p.source);
    step.data = form.data;
    p.card.mayFail = p.card.mayFail || step.kind->mayFail;
    if (step.kind->moves && step.kind->moves(form.data.get())) p.source.hash->add(p.frame());
    step.firstFrame = p.frame();
    if (p.card.ownTime && (keyed(zone.part("place")) || keyed(zone.part("form")))) {
        p.source.hash->add(p.frame());
        step.firstFrame = std::floor(p.earliest);
        for (double f = step.firstFrame; f <= std::ceil(p.latest) + 1; ++f) step.states.push_back(zoneStateAt(zone, f));
    } else {
        step.states.push_back(zoneStateAt(zone, p.frame()));
    }
    for (const ZoneState& state : step.states) addState(*p.source.hash, state);
}

std::vector<WeaveStep> weaveOf(const Preparing& p, const std::vector<ObjectId>& entries, int depth) {
    std::vector<WeaveStep> steps;
    for (const ObjectId id : entries) {
        const Object& object = p.scene.at(id);
        const auto resolved = resolve(object.part("entry"), p.frame());
        const auto& entry = resolved.as<WeaveEntry>();
        p.source.hash->add(resolved.hash);
        if (!entry.on) continue;
        WeaveStep step;
        step.entry = id;
        step.operation = entry.operation;
        step.amount = entry.amount / 100;
        const auto& group = object.list("group");
        if (group.empty()) {
            const Object* zone = p.scene.find(entry.zone);
            if (!zone) throw Error("A zone of its weave was deleted; take the entry out or pick another zone.");
            try {
                addZone(p, *zone, step);
            } catch (const Error& error) {
                throw Error("Its zone “" + zone->name + "”: " + error.what());
            }
        } else {
            if (depth >= deepestWeave)
                throw Error("Groups of its weave lie deeper in each other than " + std::to_string(deepestWeave) + "; take one apart.");
            step.group = weaveOf(p, group, depth + 1);
        }
        steps.push_back(std::move(step));
    }
    return steps;
}

Response responseOf(const Part& part, RailSource& source) {
    const ResolvedPart resolved = resolve(part, source.moment.frame);
    source.hash->add(resolved.hash);
    Response response = resolved.as<Response>();
    response.table = tableOf(response.points);
    return response;
}

void prepareKinds(const Preparing& p, const Object& gesture) {
    Card& card = p.card;
    ContentHash& hash = *p.source.hash;
    for (const ResolvedPart* part : {&card.change, &card.pattern}) hash.add(part->hash);
    if (card.kind().prepare) card.kind().prepare(card.change.data.get(), p.source);
    if (card.patternKind().prepare) card.patternKind().prepare(card.pattern.data.get(), p.source);
    card.mayFail = card.mayFail || card.patternKind().mayFail;
    const bool patternMoves = card.patternKind().moves && card.patternKind().moves(card.pattern.data.get());
    const bool kindMoves = card.kind().moves && card.kind().moves(card.change.data.get());
    const bool lanesMove = card.ownTime && keyed(gesture.part("change"));
    if (patternMoves || kindMoves || lanesMove) hash.add(p.frame());
}

}  // namespace

Card prepareCard(const Scene& scene, const Object& railEntry, const PlanOptions& options, RailSource& source, double shiftFrames) {
    const double frame = source.moment.frame;
    const auto entry = resolve(railEntry.part("entry"), frame);
    const Object& gesture = scene.at(entry.as<RailEntry>().gesture);
    *source.hash = ContentHash();
    Card card;
    card.entry = railEntry.id;
    card.gesture = gesture.id;
    card.acts = entry.as<RailEntry>().on && (!options.solo || options.solo == railEntry.id);
    card.change = resolve(gesture.part("change"), frame);
    card.pattern = resolve(gesture.part("pattern"), frame);
    const ResolvedPart when = resolve(gesture.part("when"), frame);
    card.stagger = when.as<Stagger>();
    card.ownTime = card.stagger.by != StaggerBy::none || shiftFrames > 0;
    readNumbers(gesture.part("change"), frame, card);
    source.hash->add(when.hash);
    source.hash->add(std::uint64_t{card.acts});
    const double over = card.stagger.by == StaggerBy::none ? 0 : card.stagger.over;
    const Preparing preparing{scene, source, frame - std::max(over, 0.0) - shiftFrames, frame - std::min(over, 0.0) + shiftFrames, card};
    card.where = responseOf(gesture.part("where"), source);
    card.shaped = responseOf(gesture.part("shaped"), source);
    try {
        prepareKinds(preparing, gesture);
        card.weave = weaveOf(preparing, gesture.list("weave"), 0);
    } catch (const Error& error) {
        card.waits = error.what();
        card.acts = false;
        source.hash->add(card.waits);
    }
    return card;
}

}  // namespace gswarm
