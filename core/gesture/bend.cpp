// Bends space around an axis that keeps its length.
#include <algorithm>

#include "core/gesture/warp.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/bend.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_BEND_ONCE
#define GSWARM_BEND_ONCE
namespace gswarm {

/// What may differ per instance comes with the input, angles in radians and percent as shares.
struct Bend : LimitedWarp {
    float angle;  ///< radians
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Along the axis s becomes an arc of the curvature angle / length; what lies x to the side it bends toward stays that far from it.
void bendLanes(const GestureInput& in, const Bend& bend, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Sub;
    const Limits limits(bend);
    const F perLength = number(1 / limits.length()), one = number(1), zero = hn::Zero(Floats());
    warpLanes(in, bend, block, effect, [&](const Vector& p, int i) {
        const AlongAxis at = limits.at(p.y);
        const F curvature = Mul(read(in.numbers[1], i), perLength);
        const F half = Mul(Mul(curvature, at.inside), number(0.5f));
        const SineCosine h = sineCosine(half);
        const F straight = hn::Div(h.sine, half), ratio = hn::IfThenElse(hn::Lt(hn::Abs(half), number(1e-4f)), one, straight);
        const F sine = Mul(Add(h.sine, h.sine), h.cosine), cosine = Sub(one, Mul(Add(h.sine, h.sine), h.sine));
        const F chord = Mul(at.inside, ratio);
        Warped w;
        w.place = {Add(Add(Mul(p.x, cosine), Mul(chord, h.sine)), Mul(at.beyond, sine)),
                   Add(Add(Sub(Mul(chord, h.cosine), Mul(p.x, sine)), Mul(at.beyond, cosine)), number(limits.still)), p.z};
        w.turn = {zero, zero, hn::Neg(h.sine), h.cosine};
        const F stretch = hn::IfThenElse(at.within, Sub(one, Mul(curvature, p.x)), one);
        w.alongX = {cosine, hn::Neg(sine), zero};
        w.alongY = {Mul(stretch, sine), Mul(stretch, cosine), zero};
        w.alongZ = {zero, zero, one};
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(bendLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(bendLanes)(in, in.as<Bend>(), block, effect);
}

std::vector<GestureHandle> handles(const Bend& bend) {
    auto all = limitHandles(bend);
    // Where the end of the axis comes to, about as far to the side as it is dragged.
    const float length = bend.high() - bend.low(), half = bend.angle / 2, away = length * std::sin(half);
    all.push_back({"angle", {away, bend.high(), 0}, {1, 0, 0}, "angle", 114.6 / std::max(length, 1e-3f)});
    return all;
}

GestureKind bendKind() {
    DescribeGesture<Bend> d("bend", "Bend", "Bends the space along an axis, which keeps its length");
    d.angle("angle", &Bend::angle, 90, {-360, 360}, "From one limit to the other").perInstance();
    describeWarp(d);
    describeLimits(d);
    return makesWarp(d, apply, handles);
}

}  // namespace

const GestureKind bendGesture = bendKind();

}  // namespace gswarm
#endif
