#include "core/light/far_light.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>

namespace gswarm {

using glm::vec3;

vec3 towardSun(float height, float around) {
    return {std::cos(height) * std::sin(around), std::sin(height), std::cos(height) * std::cos(around)};
}

vec3 turnedBack(const vec3& d, float around) {
    const float c = std::cos(around), s = std::sin(around);
    return {c * d.x - s * d.z, d.y, s * d.x + c * d.z};
}

vec3 Surroundings::from(const vec3& direction) const { return picture ? picture->from(turnedBack(direction, around)) * light : vec3(0); }

vec3 skyFrom(const FarLight& light, const vec3& direction) {
    const float up = std::clamp(direction.y, -1.0f, 1.0f);
    const float share = up > 0 ? std::sqrt(up) : 0;
    const float below = up < 0 ? 1 + 0.75f * up : 1;
    return glm::mix(light.horizon, light.zenith, share) * below;
}

}  // namespace gswarm
