#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/base/world_pose.h"

namespace gswarm {

/// Of one swarm, over all its symmetries.
inline constexpr std::size_t mostCopies = 4096;

/// Every copy of every copy: those of the first symmetry, then those of the second of all these, and so on. Where two fall
/// together there is one. The first is the original.
std::vector<glm::mat4> copiesOfCopies(std::span<const std::vector<glm::mat4>> symmetries);

/// A similarity as a move, a turn and a scale; X is scaled by less than 0 where it mirrors.
struct SimilarityParts {
    glm::vec3 position;
    glm::quat rotation;
    glm::vec3 scale;
};
SimilarityParts partsOf(const glm::mat4& similarity);

/// How much larger it makes things; never less than 0.
float scaleOf(const glm::mat4& similarity);

/// A copy in the world: what brings an instance of the original there. A mirrored one is turned, and its X scaled by less than 0.
struct CopyInWorld {
    glm::mat4 stand;
    SimilarityParts parts;

    glm::vec3 place(const glm::vec3& p) const { return glm::vec3(stand * glm::vec4(p, 1)); }
    glm::quat rotation(const glm::quat& q) const;
    glm::vec3 scale(const glm::vec3& s) const { return s * parts.scale; }
};
/// All copies but the original, whose numbers the pose alone gives.
std::vector<CopyInWorld> furtherCopies(const WorldPose& pose, std::span<const glm::mat4> copies);

}  // namespace gswarm
