// Squashes or stretches space along an axis and keeps its volume.
#include <algorithm>

#include "core/gesture/warp.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/squash.cpp"
#include <hwy/foreach_target.h>

#include "core/gesture/warp-inl.h"

#ifndef GSWARM_SQUASH_ONCE
#define GSWARM_SQUASH_ONCE
namespace gswarm {

struct Squash : Warp {
    float height;  ///< percent
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Along the axis times the height, across it divided by its root.
void squashLanes(const GestureInput& in, const Squash& squash, Block& block, EffectColumns& effect) {
    using hn::Mul;
    const F zero = hn::Zero(Floats());
    warpLanes(in, squash, block, effect, [&](const Vector& p, int i) {
        const F along = hn::Max(read(in.numbers[1], i), number(1e-3f));
        const F across = hn::Div(number(1), hn::Sqrt(along));
        Warped w;
        w.place = {Mul(p.x, across), Mul(p.y, along), Mul(p.z, across)};
        w.turn = noTurn();
        w.alongX = {across, zero, zero};
        w.alongY = {zero, along, zero};
        w.alongZ = {zero, zero, across};
        return w;
    });
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(squashLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    HWY_DYNAMIC_DISPATCH(squashLanes)(in, in.as<Squash>(), block, effect);
}

std::vector<GestureHandle> handles(const Squash& squash) { return {{"height", {0, squash.height / 100, 0}, {0, 1, 0}, "height", 100}}; }

GestureKind squashKind() {
    DescribeGesture<Squash> d("squash", "Squash", "Squashes or stretches the space along an axis and keeps its volume");
    d.number("height", &Squash::height, 50, {10, 300}, "Along the axis; across it becomes as much wider as keeps the volume")
        .unit("%")
        .hard(0.1, 1e5)
        .perInstance();
    describeWarp(d);
    return makesWarp(d, apply, handles);
}

}  // namespace

const GestureKind squashGesture = squashKind();

}  // namespace gswarm
#endif
