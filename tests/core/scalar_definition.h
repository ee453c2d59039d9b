#pragma once
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

/// The lane functions once more in plain C++, one instance at a time: what every processor target must give to the bit.
namespace scalar {

inline std::uint32_t scramble(std::uint32_t h) {
    h ^= h >> 16;
    h *= 0x7FEB352Du;
    h ^= h >> 15;
    h *= 0x846CA68Bu;
    return h ^ (h >> 16);
}

inline float chance(std::uint32_t seed, std::uint64_t id, std::uint32_t channel) {
    const std::uint32_t start = (seed * 0x9E3779B9u) ^ ((channel + 1) * 0x85EBCA6Bu);
    const std::uint32_t low = scramble(static_cast<std::uint32_t>(id) ^ start);
    const std::uint32_t h = scramble((low ^ static_cast<std::uint32_t>(id >> 32)) + start);
    return static_cast<float>(h >> 8) * (1.0f / 16777216.0f);
}

inline float mix(float a, float b, float x) { return a + (b - a) * x; }
inline float smooth(float x) { return (x * x) * (3 - (x + x)); }
inline float fade(float x) { return ((x * x) * x) * (x * (x * 6 - 15) + 10); }

inline float sine(float radians) {
    const float turns = std::floor(radians * 0.636619772367581f + 0.5f);
    float r = radians - turns * 1.5703125f;
    r = r - turns * 4.837512969970703125e-4f;
    r = r - turns * 7.549789948768648e-8f;
    const float r2 = r * r;
    float s = r2 * -1.9515295891e-4f + 8.3321608736e-3f;
    s = s * r2 - 1.6666654611e-1f;
    s = r + (s * r2) * r;
    float c = r2 * 2.443315711809948e-5f - 1.388731625493765e-3f;
    c = c * r2 + 4.166664568298827e-2f;
    c = ((c * r2) * r2 - r2 * 0.5f) + 1;
    const auto quarter = static_cast<std::uint32_t>(static_cast<std::int32_t>(turns));
    const float value = quarter & 1 ? c : s;
    return quarter & 2 ? -value : value;
}

inline float slope(std::uint32_t h, int output, float x, float y, float z, float w) {
    const auto flip = [h](int bit, float v) { return h >> bit & 1 ? -v : v; };
    const float a = flip(0, x), b = flip(1, y), c = flip(2, z), d = flip(3, w);
    if (output == 0) return (a + b) + (c + d);
    return output == 1 ? flip(4, (a - b) + (c - d)) : flip(5, (a + b) - (c + d));
}

/// One octave of gradient noise; output 0 … 2. `period` 0 means that time does not repeat.
inline float gradientNoise(float x, float y, float z, float time, float period, std::uint32_t seed, int output) {
    const float cx = std::floor(x), cy = std::floor(y), cz = std::floor(z);
    float cw = std::floor(time);
    const float fx = x - cx, fy = y - cy, fz = z - cz, fw = time - cw;
    float nw = cw + 1;
    if (period > 0) {
        if (cw >= period) cw = 0;
        if (nw >= period) nw = 0;
    }
    const auto word = [](float cell, std::uint32_t factor) { return static_cast<std::uint32_t>(static_cast<std::int32_t>(cell)) * factor; };
    constexpr std::uint32_t kx = 0x8DA6B343u, ky = 0xD8163841u, kz = 0xCB1AB31Fu, kw = 0x9C06FAF5u;
    float alongW[2];
    for (int w = 0; w < 2; ++w) {
        float alongZ[2];
        for (int k = 0; k < 2; ++k) {
            float alongY[2];
            for (int j = 0; j < 2; ++j) {
                float corner[2];
                for (int i = 0; i < 2; ++i) {
                    std::uint32_t h = word(w ? nw : cw, kw) + word(cz, kz) + (k ? kz : 0) + word(cy, ky) + (j ? ky : 0) + word(cx, kx) +
                                      seed * 0x9E3779B9u + (i ? kx : 0);
                    h = (h ^ h >> 15) * 0x2C1B3C6Du;
                    h ^= h >> 12;
                    corner[i] = slope(h, output, i ? fx - 1 : fx, j ? fy - 1 : fy, k ? fz - 1 : fz, w ? fw - 1 : fw);
                }
                alongY[j] = mix(corner[0], corner[1], fade(fx));
            }
            alongZ[k] = mix(alongY[0], alongY[1], fade(fy));
        }
        alongW[w] = mix(alongZ[0], alongZ[1], fade(fz));
    }
    return mix(alongW[0], alongW[1], fade(fw));
}

inline float noise(float x, float y, float z, float time, float period, std::uint32_t seed, int output) {
    return std::min(std::max(gradientNoise(x, y, z, time, period, seed, output) * 1.6f, -1.0f), 1.0f);
}

/// Weight of a ball zone around the origin.
inline float ball(float x, float y, float z, float radius, float softEdge) {
    const float depth = radius - std::sqrt((x * x + y * y) + z * z);
    return smooth(std::min(std::max(depth / std::max(softEdge, 1e-6f), 0.0f), 1.0f));
}

}  // namespace scalar
