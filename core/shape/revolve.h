#pragma once
#include <glm/vec2.hpp>
#include <vector>

#include "core/shape/mesh.h"

namespace gswarm {

/// A stretch of a profile that is smooth in itself: distances from the axis (x) and heights (y), outside to the right
/// when going along it.
struct ProfilePoint {
    glm::vec2 place;
    glm::vec2 normal;  ///< outward and up
};
using ProfileStretch = std::vector<ProfilePoint>;

/// The straight stretch from one place to another in `steps` equal parts.
ProfileStretch straightStretch(const glm::vec2& from, const glm::vec2& to, int steps);

/// Turns a profile once about Y. Points on the axis become single corners. Stretches that end where the next begins
/// close to the bit; edges between them are sharp.
Mesh revolve(const std::vector<ProfileStretch>& profile, int sides);

}  // namespace gswarm
