#pragma once
#include <glm/ext/matrix_transform.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
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

/// From its own space into the world.
inline glm::mat4 matrixOf(const WorldPose& pose) {
    glm::mat4 matrix = glm::mat4_cast(pose.rotation) * glm::scale(glm::mat4(1), glm::vec3(pose.scale));
    matrix[3] = glm::vec4(pose.position, 1);
    return matrix;
}

}  // namespace gswarm
