#pragma once
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// Spreads a share of all light over widths from one pixel to about `radius` of them, the wider the less; no light is lost but at
/// the picture's edge, where it is thrown back in. Rows from the top, width × height of them. Cost: about one and a half passes over
/// the picture, whatever the radius.
void bloom(std::vector<glm::vec3>& light, int width, int height, float radius, float share);

}  // namespace gswarm
