#include "core/picture/sobol.h"

#include <cstring>

namespace gswarm {
namespace {

/// PCG's hash (O'Neill 2014).
std::uint32_t hashOf(std::uint32_t v) {
    v = v * 747796405u + 2891336453u;
    v = ((v >> ((v >> 28) + 4)) ^ v) * 277803737u;
    return (v >> 22) ^ v;
}
std::uint32_t joined(std::uint32_t seed, std::uint32_t v) { return seed ^ (v + 0x9e3779b9u + (seed << 6) + (seed >> 2)); }

/// Four of them at once.
using Four = std::uint32_t __attribute__((vector_size(16)));

template <class Bits>
Bits reversed(Bits x) {
    x = ((x >> 1) & 0x55555555u) | ((x & 0x55555555u) << 1);
    x = ((x >> 2) & 0x33333333u) | ((x & 0x33333333u) << 2);
    x = ((x >> 4) & 0x0f0f0f0fu) | ((x & 0x0f0f0f0fu) << 4);
    x = ((x >> 8) & 0x00ff00ffu) | ((x & 0x00ff00ffu) << 8);
    return (x >> 16) | (x << 16);
}

/// Laine and Karras' permutation with Vegdahl's constants: scrambles each bit by those below it.
template <class Bits>
Bits permuted(Bits x, Bits seed) {
    x ^= x * 0x3d20adeau;
    x += seed;
    x *= (seed >> 16) | 1;
    x ^= x * 0x05526c56u;
    x ^= x * 0x53a22864u;
    return x;
}

/// A seed for each of four dimensions (the last steps of MurmurHash3).
Four seedsOf(std::uint32_t seed) {
    Four v = Four{seed, seed, seed, seed} + Four{0x9e3779b9u, 0x3c6ef372u, 0xdaa66d2bu, 0x78dde6e4u};
    v ^= v >> 16;
    v *= 0x85ebca6bu;
    v ^= v >> 13;
    v *= 0xc2b2ae35u;
    return v ^ (v >> 16);
}

/// The first points, their bits in reverse as the permutation takes them, and so are those of the places they stand at.
struct FirstPoints {
    static constexpr int bits = 12;
    static constexpr std::uint32_t count = 1u << bits;  ///< more samples than that repeat
    Four of[count];

    FirstPoints() {
        // Joe and Kuo's first polynomials and starts; dimension 0 reverses the bits.
        constexpr int degree[3] = {1, 2, 3};
        constexpr std::uint32_t inner[3] = {0, 1, 1}, start[3][3] = {{1, 0, 0}, {1, 3, 0}, {1, 3, 1}};
        std::uint32_t direction[4][32];
        for (int k = 0; k < 32; ++k) direction[0][k] = 1u << (31 - k);
        for (int d = 0; d < 3; ++d) {
            std::uint32_t m[32];
            for (int k = 0; k < 32; ++k) {
                if (k < degree[d]) {
                    m[k] = start[d][k];
                } else {
                    m[k] = m[k - degree[d]] ^ (m[k - degree[d]] << degree[d]);
                    for (int j = 1; j < degree[d]; ++j)
                        if (inner[d] >> (degree[d] - 1 - j) & 1) m[k] ^= m[k - j] << j;
                }
                direction[d + 1][k] = m[k] << (31 - k);
            }
        }
        for (std::uint32_t index = 0; index < count; ++index) {
            Four x{};
            for (int d = 0; d < 4; ++d)
                for (int bit = 0; bit < bits; ++bit)
                    if (index >> bit & 1) x[d] ^= direction[d][bit];
            of[reversed(index) >> (32 - bits)] = reversed(x);
        }
    }
};

const FirstPoints points;

}  // namespace

Sobol::Sobol(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed)
    : seed_(hashOf(x + hashOf(y + hashOf(seed)))), sample_(reversed(sample)) {}

void Sobol::refill() {
    const std::uint32_t seed = hashOf(joined(seed_, group_++));
    const Four& point = points.of[permuted(sample_, seed) >> (32 - FirstPoints::bits)];
    const Four numbers = reversed(permuted(point, seedsOf(seed))) >> 8;
    // Below 2^24 they are the same with a sign, which processors turn into floats at once.
    using Whole = std::int32_t __attribute__((vector_size(16)));
    using Floats = float __attribute__((vector_size(16)));
    const Floats shares = __builtin_convertvector(reinterpret_cast<const Whole&>(numbers), Floats) * (1.0f / 16777216.0f);
    std::memcpy(numbers_.data(), &shares, sizeof shares);
    at_ = 0;
}

}  // namespace gswarm
