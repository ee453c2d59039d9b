#include "core/picture/film.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <new>
#include <string>
#include <vector>

#include "core/base/parallel.h"

namespace gswarm {

PixelRect cutTo(const PixelRect& a, const PixelRect& b) {
    const int x = std::max(a.x, b.x), y = std::max(a.y, b.y);
    return {x, y, std::max(0, std::min(a.x + a.width, b.x + b.width) - x), std::max(0, std::min(a.y + a.height, b.y + b.height) - y)};
}

Error tooLargeForMemory(int width, int height) {
    return Error("There is not enough memory for a picture of " + std::to_string(width) + " × " + std::to_string(height) +
                 " pixels; make it smaller.");
}

Film::Film(int across, int down) try
    : width(across), height(down), pixels(static_cast<std::size_t>(across) * static_cast<std::size_t>(down)) {
} catch (const std::bad_alloc&) {
    throw tooLargeForMemory(across, down);
}

float varianceOf(const Film::Pixel& pixel) {
    if (pixel.samples < 2) return 1;
    const auto n = static_cast<float>(pixel.samples);
    const float mean = pixel.luminance / n;
    return std::max(pixel.squares / n - mean * mean, 0.0f) / (n - 1);
}

namespace {

/// The slope of a curve close to the display's, and of what it does to what is brighter than white.
float slopeAt(float shown) { return shown >= 1 ? 0.45f / (shown * shown) : 0.45f * std::pow(std::max(shown, 0.01f), -0.55f); }

/// The mean luminance of a pixel and those around it: its own would be taken for darker where it happens to be, and its noise for less.
float luminanceAround(const Film& film, int x, int y) {
    float luminance = 0, samples = 0;
    for (int v = std::max(y - 1, 0); v <= std::min(y + 1, film.height - 1); ++v)
        for (int u = std::max(x - 1, 0); u <= std::min(x + 1, film.width - 1); ++u) {
            const Film::Pixel& p = film.at(u, v);
            luminance += p.luminance, samples += static_cast<float>(p.samples);
        }
    return luminance / std::max(samples, 1.0f);
}

/// The squared error of a pixel's mean as two parts of its samples differ: the early ones and the rest, each of which fills its range
/// evenly for itself.
float varianceBetween(const Film::Pixel& pixel) {
    const auto all = static_cast<float>(pixel.samples), early = static_cast<float>(std::bit_floor(pixel.samples - 1));
    const float apart = pixel.early / early - (pixel.luminance - pixel.early) / (all - early);
    return apart * apart * (early / all) * (1 - early / all);
}

}  // namespace

float spreadAround(const Film& film, int x, int y, float exposure, bool own) {
    float variance = 0, luminance = 0, pixels = 0;
    for (int v = std::max(y - 1, 0); v <= std::min(y + 1, film.height - 1); ++v)
        for (int u = std::max(x - 1, 0); u <= std::min(x + 1, film.width - 1); ++u) {
            const Film::Pixel& p = film.at(u, v);
            if (p.samples < 2 || (!own && u == x && v == y)) continue;
            variance += varianceOf(p) * static_cast<float>(p.samples);
            luminance += p.luminance / static_cast<float>(p.samples);
            ++pixels;
        }
    if (pixels == 0) return 0;
    return std::min(0.5f, slopeAt(luminance / pixels * exposure) * exposure * std::sqrt(variance / pixels));
}

float noiseOf(const Film& film, const PixelRect& part, float exposure) {
    struct Sums {
        double unknown = 0, alone = 0, between = 0;
    };
    std::vector<Sums> rows(static_cast<std::size_t>(std::max(part.height, 0)));
    forRanges(rows.size(), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row) {
            const int y = part.y + static_cast<int>(row);
            for (int x = part.x; x < part.x + part.width; ++x) {
                const Film::Pixel& p = film.at(x, y);
                if (p.samples < 2) {
                    rows[row].unknown += 1;
                    continue;
                }
                const double slope = slopeAt(luminanceAround(film, x, y) * exposure) * exposure;
                rows[row].alone += std::min(1.0, slope * slope * varianceOf(p));
                rows[row].between += std::min(1.0, slope * slope * varianceBetween(p));
            }
        }
    });
    Sums all;
    for (const Sums& row : rows) all.unknown += row.unknown, all.alone += row.alone, all.between += row.between;
    // A part that is too small to tell counts as if nothing was gained.
    constexpr double leastEvenness = 0.02;
    const bool large = part.width * part.height >= 16;
    const double error = large ? std::clamp(all.between, leastEvenness * all.alone, all.alone) : all.alone;
    return static_cast<float>(std::sqrt((all.unknown + error) / std::max(1.0, static_cast<double>(part.width) * part.height)));
}

}  // namespace gswarm
