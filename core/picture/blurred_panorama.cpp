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
constexpr int cosineSteps = 1024;  ///< of the cosine, in the tables of lobes

/// Where light comes from: a small panorama.
struct Texel {
    vec3 direction, light;
    float angle;  ///< solid
};
constexpr int across = 64, down = 32;

/// Means of what the panorama has in each texel.
std::vector<Texel> reduced(const Panorama& panorama) {
    constexpr float pi = std::numbers::pi_v<float>;
    std::vector<Texel> out(std::size_t{across} * down);
    const int acrossEach = std::max(1, panorama.width() / across), downEach = std::max(1, panorama.height() / down);
    forEach(down, [&](std::size_t row) {
        for (std::size_t column = 0; column < across; ++column) {
            vec3 sum(0);
            float weight = 0;
            for (int b = 0; b < downEach; ++b)
                for (int a = 0; a < acrossEach; ++a) {
                    const float u = (static_cast<float>(column) + (static_cast<float>(a) + 0.5f) / static_cast<float>(acrossEach)) / across;
                    const float v = (static_cast<float>(row) + (static_cast<float>(b) + 0.5f) / static_cast<float>(downEach)) / down;
                    const float part = std::sin(v * pi);
                    sum += panorama.from(fromPanorama({u, v})) * part, weight += part;
                }
            const float x = static_cast<float>(column) + 0.5f, y = static_cast<float>(row) + 0.5f;
            out[row * across + column] = {fromPanorama({x / across, y / down}), sum / weight,
                                          weight / static_cast<float>(acrossEach * downEach) * 2 * pi * pi / (across * down)};
        }
    });
    return out;
}

/// Where a pixel of the octahedral map looks, those beyond its edges too.
vec3 directionOf(std::size_t pixel) {
    constexpr float half = B::side / 2.0f;
    float x = (static_cast<float>(pixel % B::side) + 0.5f - half) / (half - 1),
          z = (static_cast<float>(pixel / B::side) + 0.5f - half) / (half - 1);
    // Beyond an edge it goes on at the same edge, seen from its other end.
    if (std::abs(x) > 1) x = std::copysign(2 - std::abs(x), x), z = -z;
    if (std::abs(z) > 1) z = std::copysign(2 - std::abs(z), z), x = -x;
    const float y = 1 - std::abs(x) - std::abs(z);
    if (y >= 0) return glm::normalize(vec3(x, y, z));
    return glm::normalize(vec3(std::copysign(1 - std::abs(z), x), y, std::copysign(1 - std::abs(x), z)));
}

SmoothLight mattOf(const std::vector<Texel>& source) {
    SmoothLight matt{};
    for (const Texel& texel : source) {
        const auto each = harmonicsAt(texel.direction);
        for (std::size_t k = 0; k < 9; ++k)
            matt[k] += texel.light * (texel.angle * each[k] * mattScale[k] / (4 * std::numbers::pi_v<float>));
    }
    return matt;
}

/// How much counts that lies so far, by its cosine, from where a level looks.
std::array<float, cosineSteps + 1> lobe(int level) {
    std::array<float, cosineSteps + 1> table{};
    for (int k = 0; k <= cosineSteps; ++k) {
        const float cosine = static_cast<float>(k) / cosineSteps;
        const float roughness = static_cast<float>(level) / 4, alpha = roughness * roughness, a2 = alpha * alpha;
        const float half = (1 + cosine) / 2, d = half * (a2 - 1) + 1;  // of the half vector, squared
        table[static_cast<std::size_t>(k)] = a2 / (d * d) * cosine;
    }
    return table;
}

}  // namespace

std::array<float, 9> harmonicsAt(const vec3& d) {
    return {1, d.x, d.y, d.z, d.x * d.y, d.y * d.z, 3 * d.z * d.z - 1, d.x * d.z, d.x * d.x - d.y * d.y};
}

vec3 lightFrom(const SmoothLight& light, const vec3& direction) {
    const auto each = harmonicsAt(direction);
    vec3 sum(0);
    for (std::size_t k = 0; k < 9; ++k) sum += light[k] * each[k];
    return sum;
}

SmoothLight smoothed(const std::array<float, 9>& scale, const std::function<vec3(const vec3&)>& light) {
    constexpr int count = 512;
    SmoothLight sum{};
    for (int i = 0; i < count; ++i) {
        // A spiral of equal shares of the ball.
        const float y = 1 - (2 * static_cast<float>(i) + 1) / count, r = std::sqrt(1 - y * y), around = 2.39996323f * static_cast<float>(i);
        const vec3 direction(r * std::cos(around), y, r * std::sin(around)), there = light(direction);
        const auto each = harmonicsAt(direction);
        for (std::size_t k = 0; k < 9; ++k) sum[k] += there * (each[k] * scale[k] / count);
    }
    return sum;
}

BlurredPanorama blurred(const Panorama& panorama) {
    constexpr std::size_t pixels = std::size_t{B::side} * B::side;
    const std::vector<Texel> source = reduced(panorama);
    BlurredPanorama out{std::vector<vec3>(pixels * B::levels), mattOf(source)};
    for (std::size_t i = 0; i < pixels; ++i) {
        const glm::vec2 at = onPanorama(directionOf(i));
        const int column = std::min(static_cast<int>(at.x * across), across - 1), row = std::min(static_cast<int>(at.y * down), down - 1);
        out.light[i] = source[static_cast<std::size_t>(row * across + column)].light;
    }
    for (int level = 1; level < B::levels; ++level) {
        const auto table = lobe(level);
        forRanges(pixels, 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                const vec3 looks = directionOf(i);
                vec3 sum(0);
                float weight = 0;
                for (const Texel& texel : source) {
                    const float cosine = glm::dot(looks, texel.direction);
                    if (cosine <= 0) continue;
                    const float part = table[static_cast<std::size_t>(std::min(cosine, 1.0f) * cosineSteps)] * texel.angle;
                    sum += texel.light * part, weight += part;
                }
                out.light[static_cast<std::size_t>(level) * pixels + i] = sum / weight;
            }
        });
    }
    return out;
}

}  // namespace gswarm
