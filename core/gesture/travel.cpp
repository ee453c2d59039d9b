// From this formation to another: each instance goes to a home of its own there.
#include <algorithm>
#include <memory>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/gesture/gesture_kind.h"
#include "core/shape/homes.h"
#include "core/shape/shape_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/travel.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"

#ifndef GSWARM_TRAVEL_ONCE
#define GSWARM_TRAVEL_ONCE
namespace gswarm {

enum class TravelMatch { spread, number, chance };

struct Travel : GestureBasics {
    ObjectId formation;
    TravelMatch match;
    int seed;
    bool turns, sizes;
    float arch;
    std::shared_ptr<const Homes> homes;
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// block.scratch holds the other homes: place, rotation, size.
void travelLanes(const GestureInput& in, const Travel& travel, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Sub;
    const Marker places = markerFor(in, effect, positionEffect), turns = markerFor(in, effect, rotationEffect),
                 sizes = markerFor(in, effect, scaleEffect);
    const F zero = hn::Zero(Floats()), one = number(1);
    const auto other = [&](int column, int i) { return load(block.scratch[column] + i); };
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F k = toward(in, block, i);
        const auto goes = hn::Ne(k, zero), arrived = hn::Eq(k, one);
        const Vector p = loadVector(block.position, i);
        const F high = Mul(Mul(Mul(k, Sub(one, k)), number(4)), number(travel.arch));
        storeVector({mix(p.x, other(0, i), k), Add(mix(p.y, other(1, i), k), high), mix(p.z, other(2, i), k)}, block.position, i);
        places.overwrite(arrived, i);
        places.mark(goes, i);
        if (travel.turns) {
            storeQuaternion(slerp(loadQuaternion(block.rotation, i), {other(3, i), other(4, i), other(5, i), other(6, i)}, k),
                            block.rotation, i);
            turns.overwrite(arrived, i);
            turns.mark(goes, i);
        }
        if (travel.sizes) {
            const F ratio = hn::Div(other(7, i), hn::Max(load(block.home.size + i), number(1e-6f)));
            const F factor = hn::Max(zero, mix(one, ratio, k));
            storeVector(scaled(loadVector(block.scale, i), factor), block.scale, i);
            sizes.mark(hn::And(goes, hn::Ne(factor, one)), i);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(travelLanes);

namespace {

/// Which of `count` other homes an instance goes to.
std::size_t matchOf(const Travel& travel, const Block& block, int i, std::size_t count) {
    const auto number = static_cast<std::uint64_t>(block.order[i]);
    if (travel.match == TravelMatch::number) return number % count;
    if (travel.match == TravelMatch::spread) return static_cast<std::size_t>(number * count / static_cast<std::uint64_t>(block.stretch[i]));
    const std::uint64_t id = static_cast<std::uint64_t>(block.home.idHigh[i]) << 32 | block.home.idLow[i];
    return std::min(static_cast<std::size_t>(chance(static_cast<std::uint32_t>(travel.seed), id, 90) * static_cast<float>(count)),
                    count - 1);
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& travel = in.as<Travel>();
    const Homes& homes = *travel.homes;
    for (int i = 0; i < paddedCount(block); ++i) {
        const std::size_t h = matchOf(travel, block, std::min(i, block.count - 1), homes.count());
        const glm::vec3 p = homes.placeOf(h);
        const glm::quat q = homes.turnOf(h);
        const float values[] = {p.x, p.y, p.z, q.x, q.y, q.z, q.w, homes.size[h]};
        for (int c = 0; c < 8; ++c) block.scratch[c][i] = values[c];
    }
    HWY_DYNAMIC_DISPATCH(travelLanes)(in, travel, block, effect);
}

void prepare(Travel& travel, const RailSource& source) {
    travel.homes = source.homes(travel.formation);
    if (travel.homes->count() == 0) throw Error("The formation it travels to has no homes; choose another one.");
}

GestureKind travelKind() {
    DescribeGesture<Travel> d("travel", "Travel", "Takes instances to another formation");
    d.reference("formation", &Travel::formation, {ObjectType::formation},
                "Where they go: another version of this swarm's formation, or another swarm's")
        .label("To")
        .choice("match", &Travel::match, {{"spread", "Spread over all"}, {"number", "Number by number"}, {"chance", "At random"}},
                "Which instance goes to which home; spread and at random also where the counts differ")
        .label("Paired")
        .whole("seed", &Travel::seed, 1, {1, 100}, "Another seed, other pairs")
        .hard(0, 1e9)
        .only("match", {"chance"})
        .toggle("turns", &Travel::turns, true, "Turns as the other home is turned")
        .toggle("sizes", &Travel::sizes, true, "Takes the other home's scale")
        .length("arch", &Travel::arch, 0, {-4, 4}, "How high the way rises in its middle");
    return preparing(makes(d, apply), prepare);
}

}  // namespace

const GestureKind travelGesture = travelKind();

}  // namespace gswarm
#endif
