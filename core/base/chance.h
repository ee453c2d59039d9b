#pragma once
#include <cstdint>

namespace gswarm {

/// Bits shuffled so that neighbouring inputs give unrelated outputs (Chris Wellons' lowbias32).
inline std::uint32_t scrambled(std::uint32_t h) {
    h = (h ^ h >> 16) * 0x7FEB352Du;
    h = (h ^ h >> 15) * 0x846CA68Bu;
    return h ^ h >> 16;
}

/// The chance of one instance, 0 … 1 (1 excluded): the same bits as in lanes-inl.h.
inline float chance(std::uint32_t seed, std::uint64_t id, std::uint32_t channel) {
    const std::uint32_t start = seed * 0x9E3779B9u ^ (channel + 1) * 0x85EBCA6Bu;
    const std::uint32_t low = scrambled(static_cast<std::uint32_t>(id) ^ start);
    return static_cast<float>(scrambled((low ^ static_cast<std::uint32_t>(id >> 32)) + start) >> 8) * (1.0f / 16777216.0f);
}

}  // namespace gswarm
