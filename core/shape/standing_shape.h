#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

namespace gswarm {

struct ShapeMeshes;

/// A mesh that stands somewhere, in the world or in a swarm's space.
struct StandingShape {
    std::shared_ptr<const ShapeMeshes> meshes;
    glm::mat4 stand;      ///< from the mesh's own metres; may mirror, and may skew where swarms repeat swarms
    glm::vec4 colour{1};  ///< of the instance, linear with straight alpha
};
using StandingShapes = std::vector<StandingShape>;

}  // namespace gswarm
