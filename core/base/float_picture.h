#pragma once
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// A picture in linear light, rows from the top.
struct FloatPicture {
    int width = 0, height = 0;
    std::vector<glm::vec3> light;
};

}  // namespace gswarm
