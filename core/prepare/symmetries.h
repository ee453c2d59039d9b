#pragma once
#include <glm/mat4x4.hpp>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace gswarm {

/// Where a swarm is seen by its symmetries at a frame, in its own space; the first is the original. Symmetries that would make
/// too many copies are left out and told in `notes`.
std::vector<glm::mat4> copiesBySymmetries(const Scene& scene, const Object& swarm, double frame, std::vector<std::string>& notes);

}  // namespace gswarm
