#include "core/picture/sobol.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/sobol.cpp"
#include <hwy/foreach_target.h>

#include "core/picture/place_lanes-inl.h"

#ifndef GSWARM_SOBOL
#define GSWARM_SOBOL
namespace gswarm {
namespace {

/// What each bit of a place in the sequence adds to its point, by dimension. Both have their bits in reverse, as the permutation
/// takes them.
struct FirstPoints {
    std::array<std::array<std::uint32_t, Sobol::bits>, 4> of;
};

}  // namespace
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE W word(std::uint32_t v) { return hn::Set(Words(), v); }

/// PCG's hash (O'Neill 2014).
HWY_INLINE W hashOf(W v) {
    v = v * word(747796405u) + word(2891336453u);
    v = hn::Xor(hn::Shr(v, hn::ShiftRight<28>(v) + word(4)), v) * word(277803737u);
    return hn::Xor(hn::ShiftRight<22>(v), v);
}

template <int by>
HWY_INLINE W swapped(W x, std::uint32_t mask) {
    return hn::Or(hn::And(hn::ShiftRight<by>(x), word(mask)), hn::ShiftLeft<by>(hn::And(x, word(mask))));
}
HWY_INLINE W reversed(W x) {
    x = swapped<1>(x, 0x55555555u);
    x = swapped<2>(x, 0x33333333u);
    x = swapped<4>(x, 0x0f0f0f0fu);
    x = swapped<8>(x, 0x00ff00ffu);
    return hn::Or(hn::ShiftRight<16>(x), hn::ShiftLeft<16>(x));
}

/// Laine and Karras' permutation with Vegdahl's constants: scrambles each bit by those below it.
HWY_INLINE W permuted(W x, W seed) {
    x = hn::Xor(x, x * word(0x3d20adeau));
    x = x + seed;
    x = x * hn::Or(hn::ShiftRight<16>(seed), word(1));
    x = hn::Xor(x, x * word(0x05526c56u));
    return hn::Xor(x, x * word(0x53a22864u));
}

/// A seed for one of four dimensions (the last steps of MurmurHash3).
HWY_INLINE W seedOf(W seed, std::uint32_t dimension) {
    W v = seed + word(0x9e3779b9u * (dimension + 1));
    v = hn::Xor(v, hn::ShiftRight<16>(v)) * word(0x85ebca6bu);
    v = hn::Xor(v, hn::ShiftRight<13>(v)) * word(0xc2b2ae35u);
    return hn::Xor(v, hn::ShiftRight<16>(v));
}

void groupLanes(const SobolLanes& all, std::uint32_t group, const FirstPoints& points, std::span<NumberLanes> numbers) {
    for (int at = 0; at < placesTogether; at += lanes()) {
        const W own = load(all.seed.data() + at);
        const W seed = hashOf(hn::Xor(own, word(group + 0x9e3779b9u) + hn::ShiftLeft<6>(own) + hn::ShiftRight<2>(own)));
        const W place = permuted(load(all.sample.data() + at), seed);
        for (std::size_t d = 0; d < numbers.size(); ++d) {
            W point = word(0);
            for (int bit = 0; bit < Sobol::bits; ++bit) {
                const auto set = hn::TestBit(place, word(0x80000000u >> bit));
                point = hn::Xor(point, hn::IfThenElseZero(set, word(points.of[d][static_cast<std::size_t>(bit)])));
            }
            store(unitFloat(reversed(permuted(point, seedOf(seed, static_cast<std::uint32_t>(d))))), numbers[d], at);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(groupLanes);

namespace {

std::uint32_t hashOf(std::uint32_t v) {
    v = v * 747796405u + 2891336453u;
    v = ((v >> ((v >> 28) + 4)) ^ v) * 277803737u;
    return (v >> 22) ^ v;
}

std::uint32_t reversed(std::uint32_t x) {
    x = (x >> 1 & 0x55555555u) | (x & 0x55555555u) << 1;
    x = (x >> 2 & 0x33333333u) | (x & 0x33333333u) << 2;
    x = (x >> 4 & 0x0f0f0f0fu) | (x & 0x0f0f0f0fu) << 4;
    return __builtin_bswap32(x);
}

FirstPoints firstPoints() {
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
    FirstPoints points;
    for (std::size_t d = 0; d < 4; ++d)
        for (std::size_t bit = 0; bit < Sobol::bits; ++bit) points.of[d][bit] = reversed(direction[d][bit]);
    return points;
}

const FirstPoints points = firstPoints();

}  // namespace

Sobol::Sobol(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed)
    : seed_(hashOf(x + hashOf(y + hashOf(seed)))), sample_(reversed(sample)) {}

Sobol Sobol::of(std::uint32_t sample) const {
    Sobol other = *this;
    other.sample_ = reversed(sample);
    other.group_ = 0, other.at_ = 4;
    return other;
}

void Sobol::refill() {
    SobolLanes alone;
    alone.put(0, *this);
    std::array<NumberLanes, 4> numbers;
    HWY_DYNAMIC_DISPATCH(groupLanes)(alone, group_++, points, numbers);
    for (std::size_t d = 0; d < 4; ++d) numbers_[d] = numbers[d][0];
    at_ = 0;
}

void SobolLanes::put(int place, const Sobol& numbers) {
    seed[static_cast<std::size_t>(place)] = numbers.seed_, sample[static_cast<std::size_t>(place)] = numbers.sample_;
}

void SobolLanes::group(std::uint32_t which, std::span<NumberLanes> numbers) const {
    constexpr std::uint32_t apart = 1u << 16;  // as many groups nobody takes one after another
    HWY_DYNAMIC_DISPATCH(groupLanes)(*this, apart + which, points, numbers);
}

}  // namespace gswarm
#endif
