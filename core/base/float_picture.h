#pragma once
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// What a picture's colours are: light, for which whole numbers are taken as sRGB-encoded, or numbers from 0 to 1 as they are written.
/// Floating ones are linear in either case.
enum class PictureAs { light, numbers };

/// A picture in linear light, or in plain numbers where that is said; rows from the top.
struct FloatPicture {
    int width = 0, height = 0;
    std::vector<glm::vec3> light;
};

}  // namespace gswarm
