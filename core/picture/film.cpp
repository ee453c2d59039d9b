#include "core/picture/film.h"

#include <algorithm>
#include <cmath>
#include <new>
#include <string>

#include "core/base/error.h"

namespace gswarm {

Film::Film(int across, int down) try
    : width(across), height(down), pixels(static_cast<std::size_t>(across) * static_cast<std::size_t>(down)) {
} catch (const std::bad_alloc&) {
    throw Error("There is not enough memory for a picture of " + std::to_string(across) + " × " + std::to_string(down) +
                " pixels; make it smaller.");
}

float varianceOf(const Film::Pixel& pixel) {
    if (pixel.samples < 2) return 1;
    const auto n = static_cast<float>(pixel.samples);
    const float mean = pixel.luminance / n;
    return std::max(pixel.squares / n - mean * mean, 0.0f) / (n - 1);
}

float evennessOf(const Film& film, const PixelRect& part) {
    double halves = 0, alone = 0;
    for (int y = part.y; y < part.y + part.height; ++y)
        for (int x = part.x; x < part.x + part.width; ++x) {
            const Film::Pixel& p = film.at(x, y);
            if (p.samples < 2) continue;
            const auto even = static_cast<float>((p.samples + 1) / 2), odd = static_cast<float>(p.samples / 2);
            const float apart = p.even / even - (p.luminance - p.even) / odd;
            halves += apart * apart / 4;
            alone += varianceOf(p);
        }
    // A part that is too small to tell counts as if nothing was gained.
    constexpr double least = 0.02;
    return alone > 0 && part.width * part.height >= 16 ? static_cast<float>(std::clamp(halves / alone, least, 1.0)) : 1;
}

namespace {

/// The slope of a curve close to the display's, and of what it does to what is brighter than white.
float slopeAt(float shown) { return shown >= 1 ? 0.45f / (shown * shown) : 0.45f * std::pow(std::max(shown, 0.01f), -0.55f); }

}  // namespace

float noiseOf(const Film& film, const PixelRect& part, float exposure) {
    double squares = 0;
    for (int y = part.y; y < part.y + part.height; ++y)
        for (int x = part.x; x < part.x + part.width; ++x) {
            const Film::Pixel& p = film.at(x, y);
            if (p.samples < 2) {
                squares += 1;
                continue;
            }
            const double slope = slopeAt(p.luminance / static_cast<float>(p.samples) * exposure) * exposure;
            squares += std::min(1.0, slope * slope * varianceOf(p));
        }
    const double mean = squares / std::max(1.0, static_cast<double>(part.width) * part.height);
    return static_cast<float>(std::sqrt(mean * evennessOf(film, part)));
}

}  // namespace gswarm
