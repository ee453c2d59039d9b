#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <vector>

namespace gswarm {

/// A rectangle of pixels, from the top left.
struct PixelRect {
    int x = 0, y = 0, width = 0, height = 0;

    bool operator==(const PixelRect&) const = default;
};

/// What a camera has gathered: sums over the samples of each pixel, rows from the top, linear light before exposure. What is
/// partly there counts by its part, and nothing of the background is in it.
struct Film {
    struct Pixel {
        glm::vec3 light{0};
        float coverage = 0;
        glm::vec3 albedo{0};
        float depth = 0;
        glm::vec3 normal{0};
        float squares = 0;     ///< of the samples' luminance, each held below `brightest`
        float luminance = 0;   ///< held alike
        std::uint32_t id = 0;  ///< of the first sample
        std::uint32_t samples = 0;
    };
    int width = 0, height = 0;
    std::vector<Pixel> pixels;

    Film() = default;
    /// Throws Error if there is not enough memory for it.
    Film(int width, int height);

    Pixel& at(int x, int y) { return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)]; }
    const Pixel& at(int x, int y) const {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
    PixelRect whole() const { return {0, 0, width, height}; }
};

/// How far the mean of a pixel's samples is likely to be off, as a share of white on the screen: the standard error of its
/// luminance, with the slope of the display's curve there. 1 where fewer than two samples were taken.
float noiseOf(const Film::Pixel& pixel, float exposure);

/// The root of the mean square of that over a part of the film.
float noiseOf(const Film& film, const PixelRect& part, float exposure);

float luminanceOf(const glm::vec3& light);

}  // namespace gswarm
