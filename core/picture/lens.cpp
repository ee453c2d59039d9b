#include "core/picture/lens.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/mat4x4.hpp>
#include <numbers>

namespace gswarm {

using glm::vec3;

Lens::Lens(std::span<const Setting> settings, float aspect) {
    for (const Setting& setting : settings) moments_.push_back(momentOf(setting.camera, aspect));
}

Lens::Ray Lens::through(float u, float v, float time, float lensU, float lensV) const {
    const float at = time * static_cast<float>(moments_.size() - 1);
    const std::size_t k = std::min(static_cast<std::size_t>(at), moments_.size() - 1), next = std::min(k + 1, moments_.size() - 1);
    const Ray a = ray(moments_[k], u, v, lensU, lensV);
    if (k == next) return a;
    const Ray b = ray(moments_[next], u, v, lensU, lensV);
    const float share = at - static_cast<float>(k);
    return {glm::mix(a.from, b.from, share), glm::normalize(glm::mix(a.direction, b.direction, share)), glm::mix(a.ends, b.ends, share),
            glm::mix(a.begun, b.begun, share)};
}

Lens::Moment Lens::momentOf(const Camera& camera, float aspect) {
    const glm::mat4 toWorld = glm::inverse(viewMatrix(camera));
    Moment m{camera.position,
             vec3(toWorld[0]),
             vec3(toWorld[1]),
             vec3(toWorld[2]),
             0,
             0,
             0,
             1,
             camera.nearCut,
             camera.farCut,
             camera.projection == Projection::parallel};
    m.upward = m.parallel ? camera.width / 2 / aspect : std::tan(verticalFieldOfView(camera, aspect) * 0.5f);
    m.across = m.upward * aspect;
    if (m.parallel || camera.focus == Focus::everything) return m;
    m.radius = camera.focalLength / 1000 / camera.fNumber / 2;
    m.sharpAt = camera.focus == Focus::distance ? camera.focusDistance : glm::length(camera.target - camera.position);
    return m;
}

Lens::Ray Lens::ray(const Moment& m, float u, float v, float lensU, float lensV) {
    const vec3 aside = m.right * (u * m.across) + m.up * (v * m.upward);
    Ray ray{m.eye, -m.back};
    if (m.parallel) {
        ray.from += aside;
    } else {
        const vec3 sharp = (aside - m.back) * m.sharpAt;
        const float r = m.radius * std::sqrt(lensU), around = 2 * std::numbers::pi_v<float> * lensV;
        const vec3 lens = m.radius == 0 ? vec3(0) : m.right * (r * std::cos(around)) + m.up * (r * std::sin(around));
        ray.from += lens;
        ray.direction = glm::normalize(sharp - lens);
    }
    if (m.nearCut <= 0 && m.farCut <= 0) return ray;
    // Cuts are planes across the way of looking.
    const float slope = std::max(-glm::dot(ray.direction, m.back), 1e-6f);
    ray.begun = m.nearCut / slope;
    if (m.farCut > 0) ray.ends = std::max(0.0f, m.farCut / slope - ray.begun);
    ray.from += ray.direction * ray.begun;
    return ray;
}

}  // namespace gswarm
