#include "core/picture/film.h"

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

float luminanceOf(const glm::vec3& light) { return 0.2126f * light.x + 0.7152f * light.y + 0.0722f * light.z; }

float noiseOf(const Film::Pixel& pixel, float exposure) {
    if (pixel.samples < 2) return 1;
    const auto n = static_cast<float>(pixel.samples);
    const float mean = pixel.luminance / n, variance = std::max(pixel.squares / n - mean * mean, 0.0f) / (n - 1);
    // The slope of a curve close to sRGB's, its light part; what is darker than a step of it can't be told apart.
    const float shown = mean * exposure, slope = 0.45f * std::pow(std::max(shown, 0.01f), -0.55f);
    return shown >= 1 ? 0.45f * std::sqrt(variance) * exposure / (shown * shown) : std::sqrt(variance) * exposure * slope;
}

float noiseOf(const Film& film, const PixelRect& part, float exposure) {
    double squares = 0;
    for (int y = part.y; y < part.y + part.height; ++y)
        for (int x = part.x; x < part.x + part.width; ++x) {
            const double noise = noiseOf(film.at(x, y), exposure);
            squares += noise * noise;
        }
    return static_cast<float>(std::sqrt(squares / std::max(1.0, static_cast<double>(part.width) * part.height)));
}

}  // namespace gswarm
