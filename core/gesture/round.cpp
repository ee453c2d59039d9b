// Takes places toward a ball, a tube or a box.
#include <algorithm>

#include "core/gesture/warp.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/round.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_ROUND_ONCE
#define GSWARM_ROUND_ONCE
namespace gswarm {

enum class RoundTo { ball, tube, box };

struct Round : Warp {
    float share, radius;  ///< percent, metres
    RoundTo to;
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Straight out from the middle, or from the axis, by the share of what is missing to the radius. The Jacobian of ball and tube is
/// symmetric, so that nothing turns; that of a box shears what lies beside the axis of the face.
void roundLanes(const GestureInput& in, const Round& round, Block& block, EffectColumns& effect) {
    using hn::Abs, hn::Add, hn::And, hn::Ge, hn::IfThenElse, hn::IfThenElseZero, hn::Mul, hn::Neg, hn::Sub;
    const F one = number(1), zero = hn::Zero(Floats()), radius = number(round.radius);
    warpLanes(in, round, block, effect, [&](const Vector& p, int i) {
        const F share = read(in.numbers[1], i), rest = Sub(one, share);
        // In the very middle every way is as good.
        const Vector flat = round.to == RoundTo::tube ? Vector{p.x, zero, p.z} : p;
        const auto middle = hn::Lt(dot(flat, flat), number(1e-12f));
        const Vector from =
            choose(middle, round.to == RoundTo::tube ? Vector{number(1e-6f), zero, zero} : Vector{zero, number(1e-6f), zero}, flat);
        const Vector size{Abs(from.x), Abs(from.y), Abs(from.z)};
        const F largest = hn::Max(size.x, hn::Max(size.y, size.z));
        const F distance = round.to == RoundTo::box ? largest : hn::Sqrt(dot(from, from));
        const F pulled = Mul(share, hn::Div(radius, distance)), across = Add(rest, pulled);
        Warped w;
        w.place = sum(scaled(flat, rest), scaled(from, pulled));
        w.turn = noTurn();
        Vector out = scaled(from, hn::Div(one, distance)), slope = scaled(out, Neg(pulled));
        if (round.to == RoundTo::box) {
            const auto isX = Ge(size.x, hn::Max(size.y, size.z)), isY = hn::AndNot(isX, Ge(size.y, size.z));
            const auto isZ = hn::Not(hn::Or(isX, isY));
            out = {IfThenElseZero(isX, hn::CopySign(one, from.x)), IfThenElseZero(isY, hn::CopySign(one, from.y)),
                   IfThenElseZero(isZ, hn::CopySign(one, from.z))};
            const Vector beside{IfThenElse(isX, zero, slope.x), IfThenElse(isY, zero, slope.y), IfThenElse(isZ, zero, slope.z)};
            w.turn = shearTurn(out, beside, Add(across, rest));
        }
        // across · 1 + slope ⊗ out; of a tube what lies along the axis stays.
        w.alongX = {Add(across, Mul(slope.x, out.x)), Mul(slope.y, out.x), Mul(slope.z, out.x)};
        w.alongY = {Mul(slope.x, out.y), Add(across, Mul(slope.y, out.y)), Mul(slope.z, out.y)};
        w.alongZ = {Mul(slope.x, out.z), Mul(slope.y, out.z), Add(across, Mul(slope.z, out.z))};
        if (round.to == RoundTo::tube) {
            w.place.y = p.y;
            w.alongY = upward();
        }
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(roundLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(roundLanes)(in, in.as<Round>(), block, effect);
}

std::vector<GestureHandle> handles(const Round& round) { return {{"radius", {round.radius, 0, 0}, {1, 0, 0}, "radius"}}; }

GestureKind roundKind() {
    DescribeGesture<Round> d("round", "Round", "Takes places toward a ball, a tube or a box");
    d.number("share", &Round::share, 100, {0, 100}, "How much of the way they go")
        .unit("%")
        .hard(-1000, 1000)
        .perInstance()
        .choice("onto", &Round::to, {{"ball", "Ball"}, {"tube", "Tube"}, {"box", "Box"}}, "What they are taken to")
        .length("radius", &Round::radius, 2, {0.1, 10}, "From the middle, or the axis, to its surface; of a box to the middle of a face")
        .hard(1e-3, 1e6);
    describeWarp(d);
    return makesWarp(d, apply, handles);
}

}  // namespace

const GestureKind roundGesture = roundKind();

}  // namespace gswarm
#endif
