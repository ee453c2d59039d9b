// Golden-angle spiral (Vogel 1979), flat or on a dome: each instance stands 137.5° around from the one before.
#include "core/formation/golden_spiral.h"

#include "core/formation/formation_kind.h"
#include "core/scene/scale_number.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/formation/golden_spiral.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// `turn` holds each instance's way around in turns, 0 … 1.
void placeGoldenSpiral(const GoldenSpiral& spiral, const HomeRange& range, const float* turn, HomeColumns& out) {
    using hn::Add, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1), half = number(0.5f);
    const F lane = hn::Iota(Floats(), 0.0f);
    const bool dome = spiral.onto == SpiralSurface::dome;
    const F perInstance = number(2 * spiral.share / 100 / static_cast<float>(range.total));
    for (int i = 0; i < range.count; i += lanes()) {
        const F middle = Add(Add(lane, number(static_cast<float>(range.first + i))), half);
        const SineCosine around = sineCosine(Mul(load(turn + i), number(6.28318530718f)));
        Quaternion rotation{zero, zero, zero, one};
        if (dome) {
            const F up = hn::Max(Sub(one, Mul(middle, perInstance)), number(-1));
            const F out2 = hn::Sqrt(hn::Max(Sub(one, Mul(up, up)), zero));
            const Vector normal{Mul(out2, around.cosine), up, Mul(out2, around.sine)};
            const F radius = number(spiral.radius);
            store(Mul(normal.x, radius), out.position.x + i);
            store(Mul(normal.y, radius), out.position.y + i);
            store(Mul(normal.z, radius), out.position.z + i);
            const auto below = hn::Lt(up, number(-0.999999f));  // straight down: turned about X
            rotation = normalize({hn::IfThenElse(below, one, normal.z), zero, hn::IfThenElse(below, zero, hn::Neg(normal.x)),
                                  hn::IfThenElse(below, zero, Add(one, up))});
        } else {
            const F radius = Mul(number(spiral.spacing / neighboursApart), hn::Sqrt(middle));
            store(Mul(radius, around.cosine), out.position.x + i);
            store(zero, out.position.y + i);
            store(Mul(radius, around.sine), out.position.z + i);
        }
        store(one, out.size + i);
        store(rotation.x, out.rotation.x + i);
        store(rotation.y, out.rotation.y + i);
        store(rotation.z, out.rotation.z + i);
        store(rotation.w, out.rotation.w + i);
        const I whole = hn::Add(hn::Iota(Wholes(), 0), hn::Set(Wholes(), range.first + i));
        store(hn::BitCast(Words(), whole), out.idLow + i);
        store(hn::Zero(Words()), out.idHigh + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(placeGoldenSpiral);

namespace {

double count(const GoldenSpiral& spiral) { return spiral.count; }

/// Before version 2 the spacing was the radius of the first turn's growth: nothing moves when it is read as what it is now.
void spacingWasGrowth(nlohmann::ordered_json& part) { scaleNumber(part, "spacing", neighboursApart); }

void place(const GoldenSpiral& spiral, const HomeRange& range, HomeColumns& out) {
    alignas(64) Column turn;  // in double: a float would lose the angle of late instances
    for (int i = 0; i < ((range.count + 15) & ~15); ++i) {
        const double turns = (range.first + i) * 0.38196601125010515;
        turn[i] = static_cast<float>(turns - std::floor(turns));
    }
    HWY_DYNAMIC_DISPATCH(placeGoldenSpiral)(spiral, range, turn, out);
}

/// The first and the fourth stand nearest; on a dome as much as its area allows.
Spacing spacing(const GoldenSpiral& spiral) {
    if (spiral.onto == SpiralSurface::flat) return {{}, 1.546034f / neighboursApart * spiral.spacing, true};
    const double area = 4 * 3.14159265358979 * spiral.radius * spiral.radius * spiral.share / 100;
    return {{}, static_cast<float>(0.95 * std::sqrt(area / spiral.count)), true};
}

}  // namespace

const FormationKind goldenSpiralFormation =
    sampled(makes(DescribeFormation<GoldenSpiral>("goldenSpiral", "Golden spiral", "Evenly spread like seeds, flat or on a dome")
                      .found("dome sunflower seeds phyllotaxis sphere disc")
                      .whole("count", &GoldenSpiral::count, 400, {1, 4000}, "How many instances")
                      .hard(1, 1e9)
                      .choice("onto", &GoldenSpiral::onto, {{"flat", "Flat"}, {"dome", "Dome"}},
                              "The surface; on a dome all homes move when the count changes")
                      .length("spacing", &GoldenSpiral::spacing, 0.85, {0.05, 4},
                              "From each to its nearest neighbour; the innermost stand up to a tenth nearer")
                      .hard(0, 2e5)
                      .only("onto", {"flat"})
                      .length("radius", &GoldenSpiral::radius, 5, {0.1, 20}, "Of the dome")
                      .hard(0, 1e5)
                      .only("onto", {"dome"})
                      .number("share", &GoldenSpiral::share, 50, {1, 100}, "How much of the ball is covered, from the top")
                      .unit("%")
                      .hard(0.01, 100)
                      .only("onto", {"dome"})
                      .migrated({2, {}, spacingWasGrowth}),
                  count, place, spacing),
            {{"count", fixedNumbers({90})}});

}  // namespace gswarm
#endif
