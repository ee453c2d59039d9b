#include "core/picture/blurred_panorama.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/parallel.h"

namespace gswarm {
namespace {

using glm::vec3;
using B = BlurredPanorama;
constexpr std::size_t texels = std::size_t{B::width} * B::height;
constexpr int cosineSteps = 1024;  ///< of the cosine, in the tables of lobes

struct Texel {
    vec3 direction, light;
    float angle;  ///< solid
};

vec3 directionOf(std::size_t i) {
    const float x = static_cast<float>(i % B::width) + 0.5f, y = static_cast<float>(i / B::width) + 0.5f;
    return fromPanorama({x / B::width, y / B::height});
}

/// Means of what the panorama has in each texel.
std::vector<Texel> reduced(const Panorama& panorama) {
    std::vector<Texel> out(texels);
    const int acrossEach = std::max(1, panorama.width() / B::width), downEach = std::max(1, panorama.height() / B::height);
    forEach(B::height, [&](std::size_t row) {
        for (std::size_t column = 0; column < B::width; ++column) {
            vec3 sum(0);
            float weight = 0;
            for (int b = 0; b < downEach; ++b)
                for (int a = 0; a < acrossEach; ++a) {
                    const float u =
                        (static_cast<float>(column) + (static_cast<float>(a) + 0.5f) / static_cast<float>(acrossEach)) / B::width;
                    const float v = (static_cast<float>(row) + (static_cast<float>(b) + 0.5f) / static_cast<float>(downEach)) / B::height;
                    const float part = std::sin(v * std::numbers::pi_v<float>);
                    sum += panorama.from(fromPanorama({u, v})) * part, weight += part;
                }
            Texel& texel = out[row * B::width + column];
            texel.direction = directionOf(row * B::width + column);
            texel.light = sum / weight;
            texel.angle =
                weight / static_cast<float>(acrossEach * downEach) * 2 * std::numbers::pi_v<float> * std::numbers::pi_v<float> / texels;
        }
    });
    return out;
}

/// How much counts that lies so far, by its cosine, from where a level looks.
std::array<float, cosineSteps + 1> lobe(int level) {
    std::array<float, cosineSteps + 1> table{};
    for (int k = 0; k <= cosineSteps; ++k) {
        const float cosine = static_cast<float>(k) / cosineSteps;
        if (level == B::levels - 1) {
            table[static_cast<std::size_t>(k)] = cosine;
            continue;
        }
        const float roughness = static_cast<float>(level) / 4, alpha = roughness * roughness, a2 = alpha * alpha;
        const float half = (1 + cosine) / 2, d = half * (a2 - 1) + 1;  // of the half vector, squared
        table[static_cast<std::size_t>(k)] = a2 / (d * d) * cosine;
    }
    return table;
}

}  // namespace

BlurredPanorama blurred(const Panorama& panorama) {
    const std::vector<Texel> source = reduced(panorama);
    BlurredPanorama out;
    out.light.resize(texels * B::levels);
    for (std::size_t i = 0; i < texels; ++i) out.light[i] = source[i].light;
    for (int level = 1; level < B::levels; ++level) {
        const auto table = lobe(level);
        forRanges(texels, 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                const vec3 looks = source[i].direction;
                vec3 sum(0);
                float weight = 0;
                for (const Texel& texel : source) {
                    const float cosine = glm::dot(looks, texel.direction);
                    if (cosine <= 0) continue;
                    const float part = table[static_cast<std::size_t>(std::min(cosine, 1.0f) * cosineSteps)] * texel.angle;
                    sum += texel.light * part, weight += part;
                }
                out.light[static_cast<std::size_t>(level) * texels + i] = sum / weight;
            }
        });
    }
    return out;
}

}  // namespace gswarm
