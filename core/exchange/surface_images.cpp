#include "core/exchange/surface_images.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

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

Image leaning(const FloatPicture& bump, const glm::vec2& slope, float scale) {
    return painted(bump, [&](const glm::vec2& uv) {
        const glm::vec2 up = slopeAt(bump, uv) * slope / scale;
        return glm::normalize(glm::vec3(-up, 1)) * 0.5f + 0.5f;
    });
}

}  // namespace

glm::vec2 metresPerUv(const Mesh& mesh) {
    glm::dvec2 sum(0);
    double area = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const std::uint32_t *k = &mesh.triangles[t], a = k[0];
        const glm::dvec3 b = mesh.positions[k[1]] - mesh.positions[a], c = mesh.positions[k[2]] - mesh.positions[a];
        const glm::dvec2 uvB = mesh.uv[k[1]] - mesh.uv[a], uvC = mesh.uv[k[2]] - mesh.uv[a];
        const double turn = uvB.x * uvC.y - uvC.x * uvB.y, size = glm::length(glm::cross(b, c));
        if (std::abs(turn) < 1e-12 || size <= 0) continue;
        sum += size / std::abs(turn) * glm::dvec2(glm::length(b * uvC.y - c * uvB.y), glm::length(c * uvB.x - b * uvC.x));
        area += size;
    }
    return area > 0 ? glm::vec2(sum / area) : glm::vec2(0);
}

glm::vec2 bumpSlope(const SurfacePictures& pictures, const glm::vec2& metresPerUv) {
    if (!pictures.bump || metresPerUv.x <= 0 || metresPerUv.y <= 0) return glm::vec2(0);
    return pictures.bumpHeight * pictures.repeats / metresPerUv;
}

NormalImage normalImage(const FloatPicture& bump, const glm::vec2& slope) {
    float steepest = 1e-6f;
    for (int y = 0; y < bump.height; ++y)
        for (int x = 0; x < bump.width; ++x) {
            const glm::vec2 uv((static_cast<float>(x) + 0.5f) / static_cast<float>(bump.width),
                               1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(bump.height));
            const glm::vec2 up = glm::abs(slopeAt(bump, uv) * slope);
            steepest = std::max({steepest, up.x, up.y});
        }
    steepest = std::min(steepest, 1.0f);
    return {leaning(bump, slope, steepest), steepest};
}

Image plainNormalImage(const FloatPicture& bump, const glm::vec2& slope) { return leaning(bump, slope, 1); }

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
