// Twists space about an axis; the distance from it stays.
#include <algorithm>

#include "core/gesture/warp.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/twist.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_TWIST_ONCE
#define GSWARM_TWIST_ONCE
namespace gswarm {

struct Twist : LimitedWarp {
    float angle;  ///< radians
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// The turn about the axis, and the shear of what lies beside it: together what the space around a place does.
void twistLanes(const GestureInput& in, const Twist& twist, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Neg, hn::Sub;
    const Limits limits(twist);
    const F perLength = number(1 / limits.length()), one = number(1), zero = hn::Zero(Floats());
    warpLanes(in, twist, block, effect, [&](const Vector& p, int i) {
        const AlongAxis at = limits.at(p.y);
        const F perMetre = Mul(read(in.numbers[1], i), perLength), angle = Mul(perMetre, at.inside);
        const SineCosine a = sineCosine(angle), h = sineCosine(Mul(angle, number(0.5f)));
        const F x = Add(Mul(p.x, a.cosine), Mul(p.z, a.sine)), z = Sub(Mul(p.z, a.cosine), Mul(p.x, a.sine));
        const F slope = hn::IfThenElseZero(at.within, perMetre);
        const Vector shear{Mul(slope, z), zero, Neg(Mul(slope, x))};
        Warped w;
        w.place = {x, p.y, z};
        w.turn = multiply(shearTurn(upward(), shear, number(2)), {zero, h.sine, zero, h.cosine});
        w.alongX = {a.cosine, zero, Neg(a.sine)};
        w.alongY = {shear.x, one, shear.z};
        w.alongZ = {a.sine, zero, a.cosine};
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(twistLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(twistLanes)(in, in.as<Twist>(), block, effect);
}

std::vector<GestureHandle> handles(const Twist& twist) {
    auto all = limitHandles(twist);
    // One metre at the edge of a circle whose radius is half the length.
    const float radius = std::max((twist.high() - twist.low()) / 2, 1e-3f);
    all.push_back({"angle", {0, twist.high(), radius}, {1, 0, 0}, "angle", 57.3 / radius});
    return all;
}

GestureKind twistKind() {
    DescribeGesture<Twist> d("twist", "Twist", "Twists the space about an axis");
    d.angle("angle", &Twist::angle, 90, {-720, 720}, "From one limit to the other").perInstance();
    describeWarp(d);
    describeLimits(d);
    return makesWarp(d, apply, handles);
}

}  // namespace

const GestureKind twistGesture = twistKind();

}  // namespace gswarm
#endif
