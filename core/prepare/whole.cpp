#include "core/prepare/whole.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/flow/flow.h"
#include "core/flow/result.h"
#include "core/flow/weigh.h"
#include "core/flow/zone_lanes.h"
#include "core/provide/store.h"

namespace gswarm {
namespace {

/// Runs every block up to a stage of the card and hands it on.
template <class Take>
void runAll(const Plan& plan, int card, FlowStage stage, Store& store, Progress& progress, Take take) {
    forEach(static_cast<std::size_t>(plan.blocks()), [&](std::size_t number) {
        const int b = static_cast<int>(number);
        if (progress.cancelled()) return;
        FlowSpace& space = store.spaces().local();
        runBlockUntil(plan, b, space, card, stage);
        take(b, space);
    });
    progress.check();
}

bool gathersNearest(const std::vector<WeaveStep>& steps) {
    return std::any_of(steps.begin(), steps.end(),
                       [](const WeaveStep& s) { return (s.kind && s.kind->gather && !s.off) || gathersNearest(s.group); });
}

bool gathersNearest(const Card& card) {
    return gathersNearest(card.weave) ||
           std::any_of(card.forces.begin(), card.forces.end(), [](const ForceStep& force) { return gathersNearest(force.weave); });
}

void gatherZones(const Plan& plan, std::vector<WeaveStep>& steps, std::span<const glm::vec3> world,
                 std::span<const std::uint32_t> numbers) {
    for (WeaveStep& step : steps) {
        gatherZones(plan, step.group, world, numbers);
        if (!step.kind || !step.kind->gather || step.off) continue;
        const ZoneState& state = step.states.front();
        std::vector<glm::vec3> local;
        for (const glm::vec3& p : world) local.push_back(glm::conjugate(state.rotation) * (p - state.position));
        step.kind->gather(step.data.get(), local, numbers);
    }
}

void prepareNearest(Plan& plan, int number, Store& store, Progress& progress) {
    Card& card = plan.cards[static_cast<std::size_t>(number)];
    if (!gathersNearest(card)) return;
    std::vector<glm::vec3> world(static_cast<std::size_t>(plan.count));
    std::vector<std::uint32_t> numbers(world.size());
    const bool current = card.basics().place == GesturePlace::current;
    runAll(plan, number, FlowStage::before, store, progress, [&](int, const FlowSpace& space) {
        const Block& block = space.block;
        const Columns3& place = current ? block.position : block.home.position;
        for (int i = 0; i < block.count; ++i) {
            const auto row = static_cast<std::size_t>(block.first + i);
            world[row] = plan.pose.toWorld({place.x[i], place.y[i], place.z[i]});
            numbers[row] = static_cast<std::uint32_t>(block.number[i]);
        }
    });
    gatherZones(plan, card.weave, world, numbers);
    for (ForceStep& force : card.forces) gatherZones(plan, force.weave, world, numbers);
}

bool readsRangeNow(const Card& card) {
    const PatternKind& pattern = card.patternKind();
    return card.basics().place == GesturePlace::current && pattern.readsRange && pattern.readsRange(card.pattern.data.get());
}

/// The range of all places as the card before left them.
Bounds rangeBefore(const Plan& plan, int number, Store& store, Progress& progress) {
    std::vector<Bounds> ranges(static_cast<std::size_t>(plan.blocks()));
    runAll(plan, number, FlowStage::before, store, progress, [&](int b, const FlowSpace& space) {
        const Block& block = space.block;
        for (int i = 0; i < block.count; ++i) {
            const glm::vec3 place{block.position.x[i], block.position.y[i], block.position.z[i]};
            if (std::isfinite(place.x + place.y + place.z)) ranges[static_cast<std::size_t>(b)].add(place);
        }
    });
    Bounds all;
    for (const Bounds& range : ranges)
        if (!range.empty()) all.add(range.low), all.add(range.high);
    return all;
}

/// Least and most of one stage's raw values.
void prepareRange(Plan& plan, int number, FlowStage stage, Response& response, Store& store, Progress& progress) {
    struct Range {
        float least = 1e30f, most = -1e30f;
    };
    std::vector<Range> ranges(static_cast<std::size_t>(plan.blocks()));
    const Card& card = plan.cards[static_cast<std::size_t>(number)];
    const int components = stage == FlowStage::woven ? 1 : card.patternKind().components(card.pattern.data.get());
    runAll(plan, number, stage, store, progress, [&](int b, const FlowSpace& space) {
        const Block& block = space.block;
        Range& range = ranges[static_cast<std::size_t>(b)];
        const float* const columns[] = {stage == FlowStage::woven ? block.where : block.pattern.x, block.pattern.y, block.pattern.z};
        for (int c = 0; c < components; ++c)
            for (int i = 0; i < block.count; ++i) {
                if (!(std::abs(columns[c][i]) < 1e30f)) continue;
                range.least = std::min(range.least, columns[c][i]);
                range.most = std::max(range.most, columns[c][i]);
            }
    });
    Range all;
    for (const Range& range : ranges) all = {std::min(all.least, range.least), std::max(all.most, range.most)};
    response.least = all.least <= all.most ? all.least : 0;
    response.most = all.least <= all.most ? all.most : 0;
}

/// What the kind of a card remembers of every instance in a state; empty where nothing is known. Its own columns come last.
std::vector<const float*> ownColumns(const Card& card, const std::vector<MemoryState::Column>* all) {
    std::vector<const float*> own;
    if (!all) return own;
    for (std::size_t c = all->size() - card.kind().remembers(card.change.data.get()).size(); c < all->size(); ++c)
        own.push_back((*all)[c].data());
    return own;
}

WholeMoment momentOf(const Plan& plan, int number) {
    WholeMoment moment;
    const auto n = static_cast<std::size_t>(plan.count);
    for (const Variant& variant : plan.stock.variants) moment.shapes.push_back({variant.meshes, variant.size, variant.foot});
    moment.shape.resize(n);
    moment.where.resize(n);
    moment.driven.resize(n);
    const Card& card = plan.cards[static_cast<std::size_t>(number)];
    moment.from = ownColumns(card, rememberedBy(plan, number));
    if (card.seam > 0) {
        moment.lapBelow = ownColumns(card, columnsIn(plan.memory.lap.below.get(), plan, number));
        moment.lapAbove = ownColumns(card, columnsIn(plan.memory.lap.above.get(), plan, number));
        moment.lapShare = plan.memory.lap.share;
        moment.seam = moment.lapBelow.empty() || moment.lapAbove.empty() ? 0 : card.seam;
    }
    if (!moment.from.empty()) moment.loose = &plan.memory.from->loose[static_cast<std::size_t>(number)];
    if (!card.forces.empty()) moment.push.resize(n), moment.grip.resize(n);
    if (!moment.from.empty()) moment.next = ownColumns(card, columnsIn(plan.memory.after.get(), plan, number));
    moment.frames = plan.memory.frames;
    moment.moment = plan.moment;
    moment.swarm = plan.pose;
    return moment;
}

/// Looks around from where the instances of a block were a moment ago.
void lookAround(const Plan& plan, int number, FlowSpace& space, WholeMoment& moment) {
    Block& block = space.block;
    const auto first = static_cast<std::size_t>(block.first);
    const int column = plan.cards[static_cast<std::size_t>(number)].kind().placeColumn;
    for (int i = 0; i < block.count; ++i) {
        const auto row = first + static_cast<std::size_t>(i);
        moment.shape[row] = block.shown[i] == 0 || block.variant[i] == notShown ? -1 : block.variant[i];
        if (column < 0 || moment.from.empty()) continue;
        const auto at = [&](int axis) { return moment.from[static_cast<std::size_t>(column + axis)][row]; };
        const glm::vec3 place = plan.pose.fromWorld({at(0), at(1), at(2)});
        if (!(std::abs(place.x) < 1e30f)) continue;  // not known
        block.position.x[i] = place.x, block.position.y[i] = place.y, block.position.z[i] = place.z;
    }
    if (!moment.push.empty()) {
        thread_local ForceColumns felt;
        toWorld(plan.pose, block.position, paddedCount(block), block.place);
        feelForces(plan.cards[static_cast<std::size_t>(number)].forces, plan.moment, block, felt);
        for (int i = 0; i < block.count; ++i) {
            const auto row = first + static_cast<std::size_t>(i);
            moment.push[row] = {felt.push.x[i], felt.push.y[i], felt.push.z[i]};
            moment.grip[row] = felt.grip[i];
        }
    }
    const int components = driveCard(plan, space, number);
    const Columns3& driven = block.pattern;
    for (int i = 0; i < block.count; ++i) {
        const auto row = first + static_cast<std::size_t>(i);
        moment.where[row] = block.where[i];
        moment.driven[row] = components == 3 ? glm::vec3(driven.x[i], driven.y[i], driven.z[i]) : glm::vec3(driven.x[i]);
    }
}

WholeSwarm wholeBefore(const Plan& plan, int number, Store& store, Progress& progress, WholeMoment* moment) {
    WholeSwarm whole;
    const auto n = static_cast<std::size_t>(plan.count);
    for (auto* column : {&whole.x, &whole.y, &whole.z, &whole.qx, &whole.qy, &whole.qz, &whole.qw, &whole.scaleX, &whole.scaleY,
                         &whole.scaleZ, &whole.r, &whole.g, &whole.b, &whole.a, &whole.radius})
        column->resize(n);
    std::vector<float> half;  // of each variant's largest side
    for (const Variant& variant : plan.stock.variants) {
        const glm::vec3 size = variant.meshes->bounds.size();
        half.push_back(std::max({size.x, size.y, size.z}) / 2 * variant.size);
    }
    runAll(plan, number, FlowStage::before, store, progress, [&](int, FlowSpace& space) {
        const Block& block = space.block;
        const auto at = static_cast<std::size_t>(block.first);
        const auto copy = [&](const float* from, std::vector<float>& to) {
            std::copy_n(from, block.count, to.begin() + static_cast<std::ptrdiff_t>(at));
        };
        copy(block.position.x, whole.x), copy(block.position.y, whole.y), copy(block.position.z, whole.z);
        copy(block.rotation.x, whole.qx), copy(block.rotation.y, whole.qy), copy(block.rotation.z, whole.qz),
            copy(block.rotation.w, whole.qw);
        copy(block.scale.x, whole.scaleX), copy(block.scale.y, whole.scaleY), copy(block.scale.z, whole.scaleZ);
        copy(block.colour.x, whole.r), copy(block.colour.y, whole.g), copy(block.colour.z, whole.b), copy(block.colour.w, whole.a);
        for (int i = 0; i < block.count; ++i) {
            const float largest = std::max({block.scale.x[i], block.scale.y[i], block.scale.z[i]});
            whole.radius[at + static_cast<std::size_t>(i)] = block.shown[i] == 0 ? 0 : half[block.variant[i]] * largest;
        }
        if (moment) lookAround(plan, number, space, *moment);
    });
    return whole;
}

}  // namespace

bool needsWhole(const Card& card) {
    return card.acts && (card.kind().gather || card.kind().carryOn || card.where.normalise || card.shaped.normalise ||
                         readsRangeNow(card) || gathersNearest(card));
}

namespace {

/// All that share a world, in the order of their ids, and which of them the card itself is.
struct World {
    std::vector<std::pair<const Plan*, int>> cards;
    std::size_t own = 0;
    std::uint64_t hash = 0;  ///< 0 where that can't be told

    World(const Plan& plan, int number, std::uint64_t ownHash, std::span<const SharedCard> others) {
        std::vector<std::uint64_t> hashes;
        const auto add = [&](const Plan& one, int card, std::uint64_t of) {
            const auto before = std::find_if(cards.begin(), cards.end(), [&](const auto& c) { return one.swarm < c.first->swarm; });
            hashes.insert(hashes.begin() + (before - cards.begin()), of);
            cards.insert(before, {&one, card});
        };
        add(plan, number, ownHash);
        for (const SharedCard& other : others) add(other.plan, other.card, other.hash);
        while (cards[own].first != &plan) ++own;
        ContentHash key;
        key.add("whole");
        for (const std::uint64_t one : hashes) key.add(one);
        if (std::find(hashes.begin(), hashes.end(), 0) == hashes.end()) hash = key.value();
    }

    std::vector<WholeColumns> carriedOn(Store& store, Progress& progress) const {
        std::vector<WholeSwarm> swarms;
        std::vector<WholeMoment> moments;
        for (const auto& [plan, card] : cards) {
            moments.push_back(momentOf(*plan, card));
            swarms.push_back(wholeBefore(*plan, card, store, progress, &moments.back()));
        }
        std::vector<WholeShare> shares;
        for (std::size_t k = 0; k < cards.size(); ++k)
            shares.push_back({cards[k].first->cards[static_cast<std::size_t>(cards[k].second)].change.data.get(), &swarms[k], &moments[k]});
        const auto& [plan, card] = cards[own];
        return plan->cards[static_cast<std::size_t>(card)].kind().carryOn(shares, progress);
    }
    std::vector<WholeColumns> gathered(Store& store, Progress& progress) const {
        const auto& [plan, number] = cards[own];
        const Card& card = plan->cards[static_cast<std::size_t>(number)];
        return {card.kind().gather(card.change.data.get(), wholeBefore(*plan, number, store, progress, nullptr), progress)};
    }
};

}  // namespace

void prepareRanges(Plan& plan, int number, Store& store, Progress& progress) {
    Card& card = plan.cards[static_cast<std::size_t>(number)];
    if (!needsWhole(card)) return;
    if (readsRangeNow(card)) card.range = rangeBefore(plan, number, store, progress);
    prepareNearest(plan, number, store, progress);
    if (card.where.normalise) prepareRange(plan, number, FlowStage::woven, card.where, store, progress);
    if (card.shaped.normalise) prepareRange(plan, number, FlowStage::driven, card.shaped, store, progress);
}

void prepareWhole(Plan& plan, int number, std::uint64_t hash, std::span<const SharedCard> others, Store& store, Progress& progress) {
    Card& card = plan.cards[static_cast<std::size_t>(number)];
    prepareRanges(plan, number, store, progress);
    const GestureKind& kind = card.kind();
    if (!card.acts || (!kind.gather && !kind.carryOn)) return;
    const World world(plan, number, hash, others);
    const std::function<std::shared_ptr<const std::vector<WholeColumns>>()> make = [&] {
        return std::make_shared<const std::vector<WholeColumns>>(kind.carryOn ? world.carriedOn(store, progress)
                                                                              : world.gathered(store, progress));
    };
    const auto bytesOf = [](const std::vector<WholeColumns>& all) {
        std::size_t bytes = 0;
        for (const WholeColumns& columns : all)
            for (const auto& column : columns) bytes += column.size() * sizeof(float);
        return bytes;
    };
    try {
        const auto all = world.hash ? store.get<std::vector<WholeColumns>>(world.hash, make, bytesOf) : make();
        card.whole = std::shared_ptr<const WholeColumns>(all, &(*all)[kind.carryOn ? world.own : 0]);
        if (const std::string told = kind.told ? kind.told(*card.whole) : ""; !told.empty()) plan.notes.push_back(told);
    } catch (const Error& error) {
        card.waits = error.what();
        card.acts = false;
    }
}

}  // namespace gswarm
