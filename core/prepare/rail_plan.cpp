#include "core/prepare/rail_plan.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/prepare/force_plan.h"
#include "core/prepare/prepare.h"
#include "core/prepare/weave_plan.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {

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
        card.weave = weaveOf({scene, source, store, preparing.from(), preparing.to(), card.mayFail}, gesture.list("weave"));
        if (card.change.kind->feelsForces) card.forces = forcesOf(scene, source, store);
    } catch (const Error& error) {
        card.waits = error.what();
        card.acts = false;
        source.hash->add(card.waits);
    }
    return card;
}

}  // namespace gswarm
