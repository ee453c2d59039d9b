#include "core/material/surface_pictures.h"

#include <cmath>

namespace gswarm {
namespace {

/// A share of a side in pixels, from the middle of the first; the picture repeats.
float inPixels(float share, int count) { return (share - std::floor(share)) * static_cast<float>(count) - 0.5f; }

std::size_t wrapped(int pixel, int count) { return static_cast<std::size_t>((pixel + count) % count); }

}  // namespace

glm::vec3 lightAt(const FloatPicture& picture, const glm::vec2& uv) {
    const float x = inPixels(uv.x, picture.width), y = inPixels(-uv.y, picture.height);
    return betweenPixels(x, y, [&](int right, int down) {
        return picture.light[wrapped(down, picture.height) * static_cast<std::size_t>(picture.width) + wrapped(right, picture.width)];
    });
}

float numberAt(const FloatPicture& picture, const glm::vec2& uv) {
    const glm::vec3 light = lightAt(picture, uv);
    return 0.2126f * light.x + 0.7152f * light.y + 0.0722f * light.z;
}

glm::vec2 slopeAt(const FloatPicture& picture, const glm::vec2& uv) {
    const glm::vec2 half(0.5f / static_cast<float>(picture.width), 0.5f / static_cast<float>(picture.height));
    const auto at = [&](float u, float v) { return numberAt(picture, uv + half * glm::vec2(u, v)); };
    return glm::vec2(at(1, 0) - at(-1, 0), at(0, 1) - at(0, -1)) / (half * 2.0f);
}

}  // namespace gswarm
