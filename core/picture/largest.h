#pragma once
#include <algorithm>
#include <glm/vec3.hpp>

namespace gswarm {

/// The largest of a colour's three numbers.
inline float largestOf(const glm::vec3& c) { return std::max({c.x, c.y, c.z}); }

}  // namespace gswarm
