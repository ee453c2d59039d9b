// Snaps place, turn and size to steps, or place to the nearest home of another formation.
#include <algorithm>
#include <memory>

#include "core/gesture/gesture_kind.h"
#include "core/shape/homes.h"
#include "core/shape/nearest.h"
#include "core/shape/shape_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/snap.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"

#ifndef GSWARM_SNAP_ONCE
#define GSWARM_SNAP_ONCE
namespace gswarm {

enum class SnapTo { steps, homes };

struct Snap : GestureBasics {
    bool position, rotation, scale;
    SnapTo to;
    glm::vec3 step;
    ObjectId formation;
    float angle, sizeStep;
    std::shared_ptr<const NearestTree> homes;
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// The nearest whole multiple of a step; a step of 0 leaves x as it is.
HWY_INLINE F stepped(F x, float step) {
    return step > 0 ? hn::Mul(hn::Floor(hn::Add(hn::Mul(x, number(1 / step)), number(0.5f))), number(step)) : x;
}

/// block.scratch holds the places to go to where homes are snapped to.
void snapLanes(const GestureInput& in, const Snap& snap, Block& block, EffectColumns& effect) {
    const Marker places = markerFor(in, effect, positionEffect), turns = markerFor(in, effect, rotationEffect),
                 sizes = markerFor(in, effect, scaleEffect);
    const F zero = hn::Zero(Floats());
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F k = toward(in, block, i);
        if (snap.position) {
            const Vector p = loadVector(block.position, i);
            const Vector to = snap.to == SnapTo::homes
                                  ? Vector{load(block.scratch[0] + i), load(block.scratch[1] + i), load(block.scratch[2] + i)}
                                  : Vector{stepped(p.x, snap.step.x), stepped(p.y, snap.step.y), stepped(p.z, snap.step.z)};
            const Vector now{mix(p.x, to.x, k), mix(p.y, to.y, k), mix(p.z, to.z, k)};
            places.mark(nonZero(subtract(now, p)), i);
            storeVector(now, block.position, i);
        }
        if (snap.rotation) {
            // The turn away from home keeps its axis; its angle goes to whole steps.
            const Quaternion home = loadQuaternion(block.home.rotation, i), q = loadQuaternion(block.rotation, i);
            const Quaternion away = multiply(conjugate(home), q);
            const F flip = hn::BitCast(Floats(), hn::And(hn::BitCast(Words(), away.w), hn::Set(Words(), 0x80000000u)));
            const Vector v{hn::Xor(away.x, flip), hn::Xor(away.y, flip), hn::Xor(away.z, flip)};
            const F half = arcCosine(hn::Min(hn::Abs(away.w), number(1)));
            const Quaternion to =
                multiply(home, turnAbout(unit(v, constant(glm::vec3(0, 1, 0))), stepped(hn::Add(half, half), snap.angle)));
            turns.mark(hn::Ne(k, zero), i);
            storeQuaternion(slerp(q, to, k), block.rotation, i);
        }
        if (snap.scale) {
            const Vector s = loadVector(block.scale, i);
            const auto to = [&](F v) { return mix(v, stepped(v, snap.sizeStep), k); };
            const Vector now{to(s.x), to(s.y), to(s.z)};
            sizes.mark(nonZero(subtract(now, s)), i);
            storeVector(now, block.scale, i);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(snapLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& snap = in.as<Snap>();
    for (int i = 0; i < paddedCount(block) && snap.position && snap.to == SnapTo::homes; ++i) {
        const glm::vec3 p(block.position.x[i], block.position.y[i], block.position.z[i]);
        const glm::vec3 to = i < block.count ? snap.homes->nearest(p).place : p;
        for (int a = 0; a < 3; ++a) block.scratch[a][i] = to[a];
    }
    HWY_DYNAMIC_DISPATCH(snapLanes)(in, snap, block, effect);
}

void prepare(Snap& snap, const RailSource& source) {
    if (snap.position && snap.to == SnapTo::homes)
        snap.homes = std::make_shared<const NearestTree>(NearestTree::ofPoints(placesOf(*source.homes(snap.formation))));
}

GestureKind snapKind() {
    const std::vector<std::string> on{"on"};
    DescribeGesture<Snap> d("snap", "Snap", "Snaps position, rotation or scale to steps");
    d.toggle("position", &Snap::position, true, "Snaps the position")
        .choice("to", &Snap::to, {{"steps", "To steps"}, {"homes", "To a formation's homes"}}, "What places snap to")
        .label("Places")
        .only("position", on)
        .length("step", &Snap::step, {0.5, 0.5, 0.5}, {0, 4}, "Width of a step; 0 leaves an axis as it is")
        .hard(0, 1e6)
        .only("position", on)
        .only("to", {"steps"})
        .reference("formation", &Snap::formation, {ObjectType::formation}, "The formation, also that of another swarm")
        .only("position", on)
        .only("to", {"homes"})
        .toggle("rotation", &Snap::rotation, false, "Snaps how far it is turned from home")
        .angle("angle", &Snap::angle, 45, {0, 180}, "Whole steps of this")
        .hard(0, 360)
        .only("rotation", on)
        .toggle("scale", &Snap::scale, false, "Snaps the scale")
        .number("sizeStep", &Snap::sizeStep, 0.25, {0, 2}, "Whole steps of this")
        .hard(0, 1e4)
        .only("scale", on);
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.channels = {"position", "rotation", "scale"};
    kind.stillReason = "everything stands on its steps already";
    return kind;
}

}  // namespace

const GestureKind snapGesture = snapKind();

}  // namespace gswarm
#endif
