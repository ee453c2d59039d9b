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

inline float smooth(float x) { return (x * x) * (3 - (x + x)); }

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
    constexpr float back = 0.138196601f, scale = 0.307f;
    constexpr std::uint32_t factor[4] = {0x8DA6B343u, 0xD8163841u, 0xCB1AB31Fu, 0x9C06FAF5u};
    const auto word = [](float cell, std::uint32_t f) { return static_cast<std::uint32_t>(static_cast<std::int32_t>(cell)) * f; };
    const float atX = x * scale, atY = y * scale, atZ = z * scale;
    const float at[4] = {(time + atX) + (atY + atZ), (time + atX) - (atY + atZ), (time - atX) + (atY - atZ), (time - atX) - (atY - atZ)};
    float cell[4], into[4];
    std::uint32_t first = seed * 0x9E3779B9u;
    for (int i = 0; i < 4; ++i) {
        cell[i] = std::floor(at[i]);
        into[i] = at[i] - cell[i];
        first += word(cell[i], factor[i]);
    }
    const std::uint32_t whole = static_cast<std::uint32_t>(period) * (factor[0] + factor[1] + factor[2] + factor[3]);
    const float laps = period > 0 ? std::floor((cell[3] + 0.5f) * (1 / period)) : 0;
    first -= word(laps, whole);
    const bool last = period > 0 && (cell[3] - laps * period) + 1 == period;
    const float shift = ((into[0] + into[1]) + (into[2] + into[3])) * back;
    int rank[4] = {};
    for (int i = 0; i < 4; ++i)
        for (int j = i + 1; j < 4; ++j) ++rank[into[i] > into[j] ? i : j];
    float sum = 0;
    for (int corner = 0; corner < 5; ++corner) {
        float d[4];
        std::uint32_t h = first;
        for (int i = 0; i < 4; ++i) {
            const bool went = rank[i] > 3 - corner;
            d[i] = into[i] - shift;
            if (corner > 0) d[i] = d[i] + static_cast<float>(corner) * back;
            if (went) d[i] = d[i] - 1;
            if (went) h += i == 3 && last ? factor[i] - whole : factor[i];
        }
        const float reach = std::max(0.5f - ((d[0] * d[0] + d[1] * d[1]) + (d[2] * d[2] + d[3] * d[3])), 0.0f);
        h = (h ^ h >> 15) * 0x2C1B3C6Du;
        h ^= h >> 12;
        sum = sum + ((reach * reach) * reach) * slope(h, output, d[0], d[1], d[2], d[3]);
    }
    return sum * 41.3f;
}

inline float noise(float x, float y, float z, float time, float period, std::uint32_t seed, int output) {
    return std::min(std::max(gradientNoise(x, y, z, time, period, seed, output), -1.0f), 1.0f);
}

/// Weight of a ball zone around the origin.
inline float ball(float x, float y, float z, float radius, float softEdge) {
    const float depth = radius - std::sqrt((x * x + y * y) + z * z);
    return smooth(std::min(std::max(depth / std::max(softEdge, 1e-6f), 0.0f), 1.0f));
}

}  // namespace scalar
