#include "core/exchange/surface_images.h"

#include <algorithm>

#include "core/scene/kind.h"

namespace gswarm {
namespace {

std::uint8_t byteOf(double share) { return static_cast<std::uint8_t>(std::clamp(share, 0.0, 1.0) * 255 + 0.5); }

/// A picture of the size of one, from what `at` gives for the middle of each pixel: bytes of red, green and blue.
template <class At>
Image painted(const FloatPicture& size, const At& at) {
    Image image{size.width, size.height, {}};
    image.pixels.reserve(4 * size.light.size());
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const glm::vec2 uv((static_cast<float>(x) + 0.5f) / static_cast<float>(size.width),
                               1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height));
            const glm::vec3 c = at(uv);
            image.pixels.insert(image.pixels.end(), {byteOf(c.x), byteOf(c.y), byteOf(c.z), 255});
        }
    return image;
}

glm::vec3 encoded(const glm::vec3& light) { return {srgbFromLinear(light.x), srgbFromLinear(light.y), srgbFromLinear(light.z)}; }

}  // namespace

Image colourImage(const FloatPicture& colour) {
    return painted(colour, [&](const glm::vec2& uv) { return encoded(lightAt(colour, uv)); });
}

Image roughnessImage(const FloatPicture& roughness) {
    return painted(roughness, [&](const glm::vec2& uv) { return glm::vec3(1, numberAt(roughness, uv), 1); });
}

Image glowImage(const FloatPicture& glow, const FloatPicture* colour) {
    return painted(glow, [&](const glm::vec2& uv) { return encoded(lightAt(glow, uv) * (colour ? lightAt(*colour, uv) : glm::vec3(1))); });
}

}  // namespace gswarm
