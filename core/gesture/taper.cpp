// Makes space narrower or wider along an axis.
#include <algorithm>

#include "core/gesture/warp.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/taper.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_TAPER_ONCE
#define GSWARM_TAPER_ONCE
namespace gswarm {

struct Taper : LimitedWarp {
    float end, bulge;  ///< percent
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Across the axis everything is multiplied by 1 + (end − 1) t + bulge · 4 t (1 − t), t from 0 at the lower limit to 1 at the upper.
void taperLanes(const GestureInput& in, const Taper& taper, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Sub;
    const Limits limits(taper);
    const F perMetre = number(1 / limits.length()), one = number(1), zero = hn::Zero(Floats());
    warpLanes(in, taper, block, effect, [&](const Vector& p, int i) {
        const AlongAxis at = limits.at(p.y);
        const F t = Mul(Sub(Add(at.inside, number(limits.still)), number(limits.low)), perMetre);
        const F grown = Sub(read(in.numbers[1], i), one), bulge = Mul(read(in.numbers[2], i), number(4));
        const F factor = Add(one, Mul(t, Add(grown, Mul(bulge, Sub(one, t)))));
        const F slope = hn::IfThenElseZero(at.within, Mul(Add(grown, Mul(bulge, Sub(one, Add(t, t)))), perMetre));
        const Vector shear{Mul(slope, p.x), zero, Mul(slope, p.z)};
        Warped w;
        w.place = {Mul(p.x, factor), p.y, Mul(p.z, factor)};
        w.turn = shearTurn(upward(), shear, Add(factor, one));
        w.alongX = {factor, zero, zero};
        w.alongY = {shear.x, one, shear.z};
        w.alongZ = {zero, zero, factor};
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(taperLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(taperLanes)(in, in.as<Taper>(), block, effect);
}

std::vector<GestureHandle> handles(const Taper& taper) {
    auto all = limitHandles(taper);
    const float radius = std::max((taper.high() - taper.low()) / 2, 1e-3f);
    all.push_back({"end", {radius * taper.end / 100, taper.high(), 0}, {1, 0, 0}, "end", 100 / radius});
    return all;
}

GestureKind taperKind() {
    DescribeGesture<Taper> d("taper", "Taper", "Makes the space narrower or wider along an axis");
    d.number("end", &Taper::end, 30, {0, 200}, "How wide it is at the upper limit; at the lower one it is as it was")
        .unit("%")
        .hard(-1000, 1e4)
        .perInstance()
        .label("Width at the end")
        .number("bulge", &Taper::bulge, 0, {-100, 100}, "How much wider it is halfway than between the two ends")
        .unit("%")
        .hard(-1000, 1e4)
        .perInstance();
    describeWarp(d);
    describeLimits(d);
    return makesWarp(d, apply, handles);
}

}  // namespace

const GestureKind taperGesture = taperKind();

}  // namespace gswarm
#endif
