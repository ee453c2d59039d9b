// Turns instances so that one of their sides points at a thing, along their travel or up the surface they stand on.
#include "core/gesture/gesture_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/aim.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"

#ifndef GSWARM_AIM_ONCE
#define GSWARM_AIM_ONCE
namespace gswarm {

enum class AimAt { thing, travel, surface };
enum class AimSide { front, back, right, left, top, bottom };
enum class AimUp { world, normal, own };

struct Aim : GestureBasics {
    AimAt at;
    ObjectId thing;
    AimSide side;
    AimUp up;
    glm::vec3 thingPlace{0};  ///< swarm space
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// The shorter of the ways from before to now and from now to after: a jump, as of a wrap, is on one side only.
HWY_INLINE Vector travelAt(const GestureInput& in, const Block& block, int i) {
    const Vector now = loadVector(block.position, i);
    const Vector on = subtract(loadVector(*in.after, i), now), came = subtract(now, loadVector(*in.before, i));
    const F ahead = dot(on, on), behind = dot(came, came), zero = hn::Zero(Floats());
    const auto back = hn::And(hn::Gt(behind, zero), hn::Or(hn::Lt(hn::Mul(behind, number(4)), ahead), hn::Eq(ahead, zero)));
    return choose(back, came, on);
}

void aimLanes(const GestureInput& in, const Aim& aim, Block& block, EffectColumns& effect) {
    const Marker marker = markerFor(in, effect, rotationEffect);
    const Vector worldUp = rotate(conjugate(constant(in.swarm.rotation)), constant(glm::vec3(0, 1, 0)));
    // The turn that brings the chosen side to the front (+Z) with the top kept up.
    const glm::quat sides[] = {{1, 0, 0, 0},
                               {0, 0, 1, 0},
                               {0.70710678f, 0, -0.70710678f, 0},
                               {0.70710678f, 0, 0.70710678f, 0},
                               {0.70710678f, 0.70710678f, 0, 0},
                               {0.70710678f, -0.70710678f, 0, 0}};
    const Quaternion side = constant(sides[static_cast<int>(aim.side)]);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const Quaternion q = loadQuaternion(block.rotation, i), home = loadQuaternion(block.home.rotation, i);
        const Vector normal = rotate(home, constant(glm::vec3(0, 1, 0)));
        Vector up = worldUp;
        if (aim.up == AimUp::normal) up = normal;
        if (aim.up == AimUp::own) up = rotate(q, constant(glm::vec3(0, 1, 0)));
        Vector way;
        if (aim.at == AimAt::thing) way = subtract(constant(aim.thingPlace), loadVector(block.position, i));
        if (aim.at == AimAt::travel) way = travelAt(in, block, i);
        if (aim.at == AimAt::surface) {
            const Vector uphill = subtract(worldUp, scaled(normal, dot(worldUp, normal)));
            way = unit(uphill, rotate(home, constant(glm::vec3(0, 0, 1))));
            if (aim.up == AimUp::world) up = normal;
        }
        const auto still = hn::Lt(dot(way, way), number(1e-16f));
        const Vector z = unit(way, constant(glm::vec3(0, 0, 1)));
        const Vector x = unit(cross(up, z), unit(cross(rotate(q, constant(glm::vec3(0, 0, 1))), z), constant(glm::vec3(1, 0, 0))));
        const Vector y = cross(z, x);
        const Quaternion target = multiply(fromAxes(x, y, z), side);
        const F k = hn::IfThenElse(still, hn::Zero(Floats()), toward(in, block, i));
        marker.overwrite(hn::Eq(k, number(1)), i);
        marker.mark(hn::Ne(k, hn::Zero(Floats())), i);
        const Quaternion turned = slerp(q, target, k);
        const auto none = hn::Eq(k, hn::Zero(Floats()));
        storeQuaternion({hn::IfThenElse(none, q.x, turned.x), hn::IfThenElse(none, q.y, turned.y), hn::IfThenElse(none, q.z, turned.z),
                         hn::IfThenElse(none, q.w, turned.w)},
                        block.rotation, i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(aimLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) { HWY_DYNAMIC_DISPATCH(aimLanes)(in, in.as<Aim>(), block, effect); }

void prepare(Aim& aim, const RailSource& source) {
    if (aim.at == AimAt::thing) aim.thingPlace = source.swarm.fromWorld(source.pose(aim.thing).position);
}

GestureKind aimKind() {
    DescribeGesture<Aim> d("aim", "Aim", "Turns instances to point somewhere");
    d.choice("at", &Aim::at, {{"thing", "At a thing"}, {"travel", "Along their travel"}, {"surface", "Up the surface"}}, "Where they point")
        .label("Points")
        .reference("thing", &Aim::thing, {ObjectType::zone, ObjectType::swarm, ObjectType::camera, ObjectType::mount},
                   "The thing they point at")
        .only("at", {"thing"})
        .choice("side", &Aim::side,
                {{"front", "Front (+Z)"},
                 {"back", "Back (−Z)"},
                 {"right", "Right (+X)"},
                 {"left", "Left (−X)"},
                 {"top", "Top (+Y)"},
                 {"bottom", "Bottom (−Y)"}},
                "Which side of the shape points there")
        .choice("up", &Aim::up, {{"world", "Up in the world"}, {"normal", "The home's normal"}, {"own", "As it stands"}},
                "What keeps them from rolling over")
        .label("Kept upright by");
    GestureKind kind = preparing(makes(d, apply), prepare);
    kind.readsTravel = [](const void* data) { return static_cast<const Aim*>(data)->at == AimAt::travel; };
    return kind;
}

}  // namespace

const GestureKind aimGesture = aimKind();

}  // namespace gswarm
#endif
