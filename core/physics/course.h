#pragma once
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>
#include <numbers>

#include "core/time/follow_through.h"

/// Where bodies go that meet nothing, exactly.
namespace gswarm {

/// Axis times angle of a turn, the shorter way.
inline glm::vec3 turnVector(glm::quat q) {
    if (q.w < 0) q = -q;
    const glm::vec3 axis(q.x, q.y, q.z);
    const float sine = glm::length(axis);
    return sine < 1e-7f ? axis * 2.0f : axis * (2 * std::atan2(sine, q.w) / sine);
}
inline glm::quat turnOf(const glm::vec3& v) {
    const float angle = glm::length(v);
    if (angle < 1e-7f) return glm::normalize(glm::quat(1, v.x / 2, v.y / 2, v.z / 2));
    return glm::angleAxis(angle, v / angle);
}

/// Where something is and how fast after a step, if nothing is met: exact for any step.
struct Course {
    glm::vec3 away, speed;  ///< from its aim; a second
};

/// A step of time toward an aim that runs evenly by `gone`, under an even acceleration, with what is lost a second.
struct Motion {
    double seconds;
    float strive, lost, grip = 0;
    OscillatorStep spring;

    /// What is slowed loses a share `grip` of its speed a second besides.
    Motion(double s, float frequency, float damping, float lose, float g = 0)
        : seconds(s), strive(frequency), lost(static_cast<float>(std::pow(1 - std::clamp(double(lose), 0.0, 1.0), s))), grip(g) {
        // The spring's damping is of the speed itself, and so is a grip.
        if (strive > 0) spring = springStep(strive, damping + grip / (4 * std::numbers::pi * strive), s, 1);
    }
    Course after(const glm::vec3& away, const glm::vec3& speed, const glm::vec3& gone, const glm::vec3& pull) const {
        const auto t = static_cast<float>(seconds);
        if (!(strive > 0)) {
            if (!(grip > 0)) return {away - gone + (speed + pull * (t / 2)) * t, (speed + pull * t) * lost};
            // Toward the speed at which the grip holds up the pull.
            const float left = std::exp(-grip * t), held = -std::expm1(-grip * t);
            const glm::vec3 end = pull / grip;
            return {away - gone + end * t + (speed - end) * (held / grip), (end + (speed - end) * left) * lost};
        }
        // An even acceleration only shifts where it comes to rest.
        const float w = 2 * 3.14159265358979f * strive;
        const glm::vec3 rest = pull / (w * w), e = away - rest;
        return {rest + e * spring.ee + speed * spring.ev + gone * spring.eg, (e * spring.ve + speed * spring.vv + gone * spring.vg) * lost};
    }
};

}  // namespace gswarm
