#pragma once
#include <cstdint>
#include <glm/vec2.hpp>
#include <span>
#include <vector>

namespace gswarm {

/// Triangles that fill one simple polygon that runs counter-clockwise, three indices each into its corners, counter-
/// clockwise. Time grows with n log n whatever the form. Empty if it crosses or touches itself so that this can't be done.
/// Partition into monotone pieces and their triangulation, after de Berg et al., Computational Geometry, chapter 3.
std::vector<std::uint32_t> monotoneFill(std::span<const glm::dvec2> corners);

}  // namespace gswarm
