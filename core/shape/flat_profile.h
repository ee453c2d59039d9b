#pragma once
#include <glm/vec2.hpp>
#include <vector>

#include "core/shape/curve.h"

namespace gswarm {

/// A curve as a flat outline that comes back to its beginning, counter-clockwise: in the plane of two axes that it lies nearest to. Fewer
/// than three corners where it encloses nothing.
std::vector<glm::vec2> flatProfile(const Curve& curve);

/// Twice the area that corners enclose, below 0 where they run clockwise.
float doubleArea(const std::vector<glm::vec2>& corners);

/// How far along, of the whole way from corner to corner, each corner is: from 0 to 1, which is the first again where it is closed.
std::vector<float> sharesAlong(const std::vector<glm::vec2>& corners, bool closed);

}  // namespace gswarm
