#pragma once
#include <cmath>
#include <glm/common.hpp>
#include <glm/vec3.hpp>
#include <variant>
#include <vector>

#include "core/base/image.h"

namespace gswarm {

/// What a picture's colours are: light, for which whole numbers are taken as sRGB-encoded, or numbers from 0 to 1 as they are written.
/// Floating ones are linear in either case.
enum class PictureAs { light, numbers };

/// A picture in linear light, or in plain numbers where that is said; rows from the top.
struct FloatPicture {
    int width = 0, height = 0;
    std::vector<glm::vec3> light;
    std::vector<float> alpha{};  ///< as many as `light`; none where all of it is opaque
};

/// A picture as its file has it: of 8 bits a channel, which stand for light or for plain numbers, or of more.
using StoredPicture = std::variant<Image, FloatPicture>;

/// The means of blocks of so many pixels in each direction; what is too little for one at the right and lower edge is left out.
FloatPicture reduced(const FloatPicture& picture, int step);

/// Between the middles of the four pixels around a place, evenly; `pixel(x, y)` says what lies beyond the edges. Places count in
/// pixels from the middle of the first.
template <class Pixel>
glm::vec3 betweenPixels(float x, float y, const Pixel& pixel) {
    const float left = std::floor(x), top = std::floor(y);
    const int a = static_cast<int>(left), b = static_cast<int>(top);
    return glm::mix(glm::mix(pixel(a, b), pixel(a + 1, b), x - left), glm::mix(pixel(a, b + 1), pixel(a + 1, b + 1), x - left), y - top);
}

}  // namespace gswarm
