#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>
#include <memory>
#include <vector>

#include "core/shape/named_numbers.h"

namespace gswarm {

struct ShapeMeshes;

/// A mesh that stands somewhere, in the world or in a swarm's space.
struct StandingShape {
    std::shared_ptr<const ShapeMeshes> meshes;
    glm::mat4 stand;        ///< from the mesh's own metres; may mirror, and may skew where swarms repeat swarms
    glm::vec4 colour{1};    ///< of the instance, linear with straight alpha
    std::uint32_t row = 0;  ///< of the swarm's instance that it is, or is a part of
};
using StandingShapes = std::vector<StandingShape>;

/// All that a swarm shows at a frame, and what its instances carry along: a number of each row.
struct SwarmShown {
    StandingShapes shapes;
    std::vector<NamedNumbers> numbers;
};

}  // namespace gswarm
