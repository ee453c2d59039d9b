#include "core/picture/cone.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/cone.cpp"
#include <hwy/foreach_target.h>

#include "core/picture/place_lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE Vector everywhere(const glm::vec3& v) { return {number(v.x), number(v.y), number(v.z)}; }

void directionLanes(const Cone& cone, const NumberLanes& u, const NumberLanes& v, VectorLanes& directions) {
    const Vector toward = everywhere(cone.toward), along = everywhere(cone.along), across = everywhere(cone.across);
    for (int at = 0; at < placesTogether; at += lanes()) {
        const F z = number(1) - load(u, at) * number(1 - cone.cosine), r = hn::Sqrt(hn::Max(hn::Zero(Floats()), number(1) - z * z));
        const SineCosine around = sineCosine(load(v, at) * number(2 * std::numbers::pi_v<float>));
        store(unit(along * (r * around.cosine) + across * (r * around.sine) + toward * z), directions, at);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(directionLanes);

Cone::Cone(const glm::vec3& axis, float angle) : toward(axis), cosine(std::cos(angle)) { basis(toward, along, across); }

bool Cone::holds(const glm::vec3& direction) const { return glm::dot(direction, toward) >= cosine; }

void directionsIn(const Cone& cone, const NumberLanes& u, const NumberLanes& v, VectorLanes& directions) {
    HWY_DYNAMIC_DISPATCH(directionLanes)(cone, u, v, directions);
}

void basis(const glm::vec3& n, glm::vec3& a, glm::vec3& b) {
    const float sign = std::copysign(1.0f, n.z), p = -1 / (sign + n.z), q = n.x * n.y * p;
    a = {1 + sign * n.x * n.x * p, sign * q, -sign * n.x};
    b = {q, sign + n.y * n.y * p, -n.y};
}

}  // namespace gswarm
#endif
