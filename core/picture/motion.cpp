#include "core/picture/motion.h"

#include <array>

#include "core/picture/moments.h"

namespace gswarm {

Motion::Motion(const DrawList& now, const DrawList& next, const Camera& camera, const Camera& nextCamera, int width, int height,
               const Progress& progress)
    : now_(thingCount(now)), next_(now_.size()), half_(glm::vec2(width, height) * 0.5f) {
    const std::array lists{now, next};
    eachThing(lists, progress, [&](std::uint32_t number, std::span<const glm::mat4> transforms) {
        now_[number] = transforms.front();
        next_[number] = transforms.back();
    });
    clip_ = clipMatrix(camera, half_.x / half_.y);
    nextClip_ = clipMatrix(nextCamera, half_.x / half_.y);
}

glm::vec2 Motion::of(const Hit& hit) const {
    glm::vec4 from(hit.place, 1), to = from;
    if (hit.mesh) {
        const Mesh& mesh = *hit.mesh;
        const std::uint32_t* corner = &mesh.triangles[3 * static_cast<std::size_t>(hit.triangle)];
        const auto& p = mesh.positions;
        const glm::vec4 own(p[corner[0]] * (1 - hit.second - hit.third) + p[corner[1]] * hit.second + p[corner[2]] * hit.third, 1);
        from = now_[hit.number] * own;
        to = next_[hit.number] * own;
    }
    from = clip_ * from;
    to = nextClip_ * to;
    if (from.w <= 0 || to.w <= 0) return glm::vec2(0);
    return (glm::vec2(to) / to.w - glm::vec2(from) / from.w) * half_;
}

}  // namespace gswarm
