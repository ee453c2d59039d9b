#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>

namespace gswarm {

/// Where something stands in the world. Only swarms have a scale; everything else has 1.
struct WorldPose {
    glm::vec3 position{0};
    glm::quat rotation{1, 0, 0, 0};
    float scale = 1;

    bool operator==(const WorldPose&) const = default;
    glm::vec3 toWorld(const glm::vec3& p) const { return position + rotation * (p * scale); }
    glm::vec3 fromWorld(const glm::vec3& p) const { return glm::conjugate(rotation) * (p - position) / scale; }
};

}  // namespace gswarm
