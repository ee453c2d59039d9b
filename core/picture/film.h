#pragma once
#include <cstdint>
#include <glm/vec3.hpp>
#include <vector>

#include "core/base/error.h"
#include "core/picture/film_layers.h"

namespace gswarm {

/// A rectangle of pixels, from the top left.
struct PixelRect {
    int x = 0, y = 0, width = 0, height = 0;

    bool operator==(const PixelRect&) const = default;
};
/// What two have in common; of no width or no height if that is nothing.
PixelRect cutTo(const PixelRect& a, const PixelRect& b);

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
        float early = 0;       ///< of it that of the first samples: of as many as the largest power of two below their number
        std::uint32_t id = 0;  ///< of the first sample
        std::uint32_t samples = 0;
    };
    int width = 0, height = 0;
    std::vector<Pixel> pixels;
    FilmLayers layers;

    Film() = default;
    /// Throws Error if there is not enough memory for it.
    Film(int width, int height);

    std::size_t indexOf(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }
    Pixel& at(int x, int y) { return pixels[indexOf(x, y)]; }
    const Pixel& at(int x, int y) const { return pixels[indexOf(x, y)]; }
    PixelRect whole() const { return {0, 0, width, height}; }
};

/// What is said where there is no room for one.
Error tooLargeForMemory(int width, int height);

/// The squared error that the mean of a pixel's samples would have if these knew nothing of each other; 1 of fewer than two.
float varianceOf(const Film::Pixel& pixel);
/// How far one sample is likely to be off on the screen, as a share of white and up to half of it, by what was found around a pixel
/// and, if wanted, by itself. Where samples are taken by what few of its own found, pixels that met nothing bright by chance are followed
/// by too few, and pictures are too dark.
float spreadAround(const Film& film, int x, int y, float exposure, bool own);
/// How far the picture of a part is likely to be off, as a share of white on the screen: the root of the mean squared error, with
/// the slope of the display's curve at each pixel. 1 where fewer than two samples were taken. Less than the samples' spread says, where
/// they fill their ranges evenly: as far as the mean of the early ones is nearer to that of the rest than chance would bring it.
float noiseOf(const Film& film, const PixelRect& part, float exposure);

inline float luminanceOf(const glm::vec3& light) { return 0.2126f * light.x + 0.7152f * light.y + 0.0722f * light.z; }

}  // namespace gswarm
