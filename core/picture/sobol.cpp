#include "core/picture/sobol.h"

namespace gswarm {
namespace {

/// PCG's hash (O'Neill 2014).
std::uint32_t hashOf(std::uint32_t v) {
    v = v * 747796405u + 2891336453u;
    v = ((v >> ((v >> 28) + 4)) ^ v) * 277803737u;
    return (v >> 22) ^ v;
}
std::uint32_t joined(std::uint32_t seed, std::uint32_t v) { return seed ^ (v + 0x9e3779b9u + (seed << 6) + (seed >> 2)); }

std::uint32_t reversed(std::uint32_t x) {
    x = ((x >> 1) & 0x55555555u) | ((x & 0x55555555u) << 1);
    x = ((x >> 2) & 0x33333333u) | ((x & 0x33333333u) << 2);
    x = ((x >> 4) & 0x0f0f0f0fu) | ((x & 0x0f0f0f0fu) << 4);
    return __builtin_bswap32(x);
}

/// Laine and Karras' permutation with Vegdahl's constants: scrambles each bit by those below it.
std::uint32_t permuted(std::uint32_t x, std::uint32_t seed) {
    x ^= x * 0x3d20adeau;
    x += seed;
    x *= (seed >> 16) | 1;
    x ^= x * 0x05526c56u;
    x ^= x * 0x53a22864u;
    return x;
}
std::uint32_t scrambled(std::uint32_t x, std::uint32_t seed) { return reversed(permuted(reversed(x), seed)); }

/// Dimensions 1 to 3 for every byte of an index; dimension 0 reverses the bits.
struct Points {
    std::uint32_t of[3][4][256];

    Points() {
        // Joe and Kuo's first polynomials and starts.
        constexpr int degree[3] = {1, 2, 3};
        constexpr std::uint32_t inner[3] = {0, 1, 1}, start[3][3] = {{1, 0, 0}, {1, 3, 0}, {1, 3, 1}};
        for (int d = 0; d < 3; ++d) {
            std::uint32_t m[32], direction[32];
            for (int k = 0; k < 32; ++k) {
                if (k < degree[d]) {
                    m[k] = start[d][k];
                } else {
                    m[k] = m[k - degree[d]] ^ (m[k - degree[d]] << degree[d]);
                    for (int j = 1; j < degree[d]; ++j)
                        if (inner[d] >> (degree[d] - 1 - j) & 1) m[k] ^= m[k - j] << j;
                }
                direction[k] = m[k] << (31 - k);
            }
            for (int byte = 0; byte < 4; ++byte)
                for (int value = 0; value < 256; ++value) {
                    std::uint32_t x = 0;
                    for (int bit = 0; bit < 8; ++bit)
                        if (value >> bit & 1) x ^= direction[8 * byte + bit];
                    of[d][byte][value] = x;
                }
        }
    }
};

const Points points;

std::uint32_t sobol(std::uint32_t index, int dimension) {
    if (dimension == 0) return reversed(index);
    const auto& of = points.of[dimension - 1];
    return of[0][index & 255] ^ of[1][index >> 8 & 255] ^ of[2][index >> 16 & 255] ^ of[3][index >> 24];
}

}  // namespace

Sobol::Sobol(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed)
    : seed_(hashOf(x + hashOf(y + hashOf(seed)))), sample_(sample) {}

void Sobol::refill() {
    const std::uint32_t seed = hashOf(joined(seed_, group_++));
    const std::uint32_t index = scrambled(sample_, seed);
    for (int d = 0; d < 4; ++d) {
        const std::uint32_t number = scrambled(sobol(index, d), hashOf(joined(seed, static_cast<std::uint32_t>(d))));
        numbers_[static_cast<std::size_t>(d)] = static_cast<float>(number >> 8) * (1.0f / 16777216.0f);
    }
    at_ = 0;
}

}  // namespace gswarm
