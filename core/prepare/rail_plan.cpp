#include "core/prepare/rail_plan.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <glm/common.hpp>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {

void addState(ContentHash& hash, const ZoneState& state) {
    for (const float v :
         {state.position.x, state.position.y, state.position.z, state.rotation.x, state.rotation.y, state.rotation.z, state.rotation.w})
        hash.add(double(v));
    for (const float v : state.numbers) hash.add(double(v));
}

namespace {

constexpr double radiansPerDegree = 3.14159265358979323846 / 180;

double unitOf(const Parameter& p) { return p.type == ParameterType::angle ? radiansPerDegree : p.unit == "%" ? 0.01 : 1; }

/// What the preparing of one card needs to know beside the scene.
struct Preparing {
    const Scene& scene;
    RailSource& source;
    Store& store;
    double earliest, latest;  ///< frames: between these lie the instances' own times
    Card& card;

    double frame() const { return source.moment.frame; }
    /// Where all instances have the frame's own time, both are that frame.
    double from() const { return card.ownTime ? earliest : frame(); }
    double to() const { return card.ownTime ? latest : frame(); }
};

/// The numbers that may differ per instance, in the order of the table and in kernel units.
void readNumbers(const Preparing& p, const Part& change) {
    Card& card = p.card;
    int at = 0;
    for (std::size_t i = 0; i < change.values.size(); ++i) {
        const Parameter& parameter = change.kind->parameters[i];
        if (!parameter.perInstance) continue;
        const auto& numbers = std::get<Numbers>(change.values[i]);
        const bool colour = parameter.type == ParameterType::colour;
        if (colour) card.colourAt = at;
        for (std::size_t c = 0; c < numbers.size(); ++c, ++at) {
            NumberLane lane = laneOf(p.scene, numbers[c], p.source, p.from(), p.to());
            const double typed = std::clamp(double(lane.value), parameter.hard.low, parameter.hard.high);
            const double unit = unitOf(parameter);
            card.numbers[static_cast<std::size_t>(at)].value = static_cast<float>(colour && c < 3 ? linearFromSrgb(typed) : typed * unit);
            lane.factor = static_cast<float>(unit);
            lane.low = static_cast<float>(parameter.hard.low);
            lane.high = static_cast<float>(parameter.hard.high);
            if (lane.same()) continue;
            p.source.hash->add(p.frame());
            card.lanes.emplace_back(at, std::move(lane));
        }
    }
}

/// Whether a zone moves, by itself or with what it hangs from.
bool movesInTime(const Scene& scene, ObjectId id) {
    const std::vector<ObjectId> behind = everythingBehind(scene, {id});
    return std::any_of(behind.begin(), behind.end(), [&](ObjectId other) {
        const Object& object = scene.at(other);
        return std::any_of(object.parts.begin(), object.parts.end(), [](const Part& part) { return moves(part); });
    });
}

/// A zone at the frame, or at every whole frame that an instance may see it at.
void addZone(const Preparing& p, const Object& zone, WeaveStep& step) {
    ResolvedPart form = resolve(p.scene, zone.part("form"), p.frame());
    step.kind = static_cast<const ZoneKind*>(form.kind);
    step.off = !switchAt(p.scene, zone.part("place"), "on", p.frame());
    p.source.hash->add(form.hash);
    p.source.hash->add(std::uint64_t{step.off});
    if (!step.off && step.kind->prepare) step.kind->prepare(form.data.get(), p.source);
    step.data = form.data;
    p.card.mayFail = p.card.mayFail || step.kind->mayFail;
    if (step.kind->moves && step.kind->moves(form.data.get())) p.source.hash->add(p.frame());
    step.firstFrame = p.frame();
    if (p.card.ownTime && movesInTime(p.scene, zone.id)) {
        p.source.hash->add(p.frame());
        step.firstFrame = std::floor(p.earliest);
        for (double f = step.firstFrame; f <= std::ceil(p.latest) + 1; ++f) step.states.push_back(zoneStateAt(p.scene, zone, f, p.store));
    } else {
        step.states.push_back(zoneStateAt(p.scene, zone, p.frame(), p.store));
    }
    for (const ZoneState& state : step.states) addState(*p.source.hash, state);
}

std::vector<WeaveStep> weaveOf(const Preparing& p, const std::vector<ObjectId>& entries, int depth) {
    std::vector<WeaveStep> steps;
    for (const ObjectId id : entries) {
        const Object& object = p.scene.at(id);
        const auto resolved = resolve(p.scene, object.part("entry"), p.frame());
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
            if (!zone) throw Error("A zone of its weave was deleted; take the entry out or choose another zone.");
            try {
                addZone(p, *zone, step);
            } catch (const Error& error) {
                std::string why = error.what();  // goes on in the sentence
                if (!why.empty()) why[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(why[0])));
                throw Error("Its zone “" + zone->name + "”: " + why);
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

Response responseOf(const Scene& scene, const Part& part, RailSource& source) {
    const ResolvedPart resolved = resolve(scene, part, source.moment.frame);
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
    if (patternMoves || kindMoves) hash.add(p.frame());
    readNumbers(p, gesture.part("change"));
}

/// Weight, where and what drives it, each with what the follow-through needs; then the kind's own.
std::vector<bool> columnsRemembered(const Card& card) {
    const bool elsewhere = card.kind().actsElsewhere && card.kind().actsElsewhere(card.change.data.get());
    const int components = card.patternKind().components(card.pattern.data.get());
    const int driven = components * (elsewhere ? 2 : 1) + (card.patternKind().isSigned ? 1 : 0);
    const int follow = card.follow.weightColumns() * (elsewhere ? 2 : 1) + card.follow.drivenColumns() * driven;
    std::vector<bool> columns(static_cast<std::size_t>(follow), true);
    if (!card.kind().remembers) return columns;
    const std::vector<bool> own = card.kind().remembers(card.change.data.get());
    columns.insert(columns.end(), own.begin(), own.end());
    return columns;
}

}  // namespace

Card prepareCard(const Scene& scene, const Object& railEntry, const PlanOptions& options, RailSource& source, Store& store,
                 double shiftFrames) {
    const double frame = source.moment.frame;
    const auto entry = resolve(scene, railEntry.part("entry"), frame);
    static const Object nothing = standardObject(ObjectType::gesture, {});
    const Object* found = scene.find(entry.as<RailEntry>().gesture);
    const Object& gesture = found ? *found : nothing;
    *source.hash = ContentHash();
    Card card;
    card.entry = railEntry.id;
    card.gesture = entry.as<RailEntry>().gesture;
    card.acts = entry.as<RailEntry>().on && (!options.solo || options.solo == railEntry.id);
    card.change = resolve(scene, gesture.part("change"), frame);
    card.pattern = resolve(scene, gesture.part("pattern"), frame);
    const ResolvedPart when = resolve(scene, gesture.part("when"), frame);
    card.stagger = when.as<Stagger>();
    card.ownTime = card.stagger.by != StaggerBy::none || shiftFrames > 0;
    source.hash->add(when.hash);
    source.hash->add(std::uint64_t{card.acts});
    const double over = card.stagger.by == StaggerBy::none ? 0 : card.stagger.over;
    const Preparing preparing{scene, source, store, frame - std::max(over, 0.0) - shiftFrames, frame - std::min(over, 0.0) + shiftFrames,
                              card};
    card.where = responseOf(scene, gesture.part("where"), source);
    card.shaped = responseOf(scene, gesture.part("shaped"), source);
    const ResolvedPart follow = resolve(scene, gesture.part("follow"), frame);
    card.follow = follow.as<FollowThrough>();
    card.remembered = columnsRemembered(card);
    source.hash->add(follow.hash);
    source.earliest = preparing.from();
    source.latest = preparing.to();
    try {
        if (!found) throw Error("The gesture it refers to is not in the project; take the card out.");
        prepareStagger(card.stagger, source);
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
