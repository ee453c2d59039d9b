// Gradient noise in four dimensions, place and time (after Perlin 1985, 2002). Three outputs share one hash per
// lattice corner: four of its bits are the signs of the first gradient (± 1, ± 1, ± 1, ± 1), the other two stand at right
// angles to it and to each other, each turned round by a bit of its own; so each output alone is evenly spread over all
// sixteen gradients, no two go together, and the sums of distances are shared.
// Include after lanes-inl.h.
#if defined(GSWARM_NOISE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_NOISE_INL_H_
#undef GSWARM_NOISE_INL_H_
#else
#define GSWARM_NOISE_INL_H_
#endif

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// 6x⁵ − 15x⁴ + 10x³
HWY_INLINE F fade(F x) {
    const F inner = hn::Add(hn::Mul(x, hn::Sub(hn::Mul(x, number(6)), number(15))), number(10));
    return hn::Mul(hn::Mul(hn::Mul(x, x), x), inner);
}

HWY_INLINE W latticeWord(F cell, std::uint32_t factor) {
    return hn::Mul(hn::BitCast(Words(), hn::ConvertTo(Wholes(), cell)), hn::Set(Words(), factor));
}

/// A distance of known sign, given by its size: takes the sign from one bit of the hash.
template <int bit>
HWY_INLINE F withSign(F size, W hash) {
    const W shifted = hn::ShiftLeft<31 - bit>(hash);
#if HWY_TARGET == HWY_AVX3
    // One instruction that overwrites the shifted word, which nobody needs any more, and not a copy of the size.
    return F{
        _mm512_castsi512_ps(_mm512_ternarylogic_epi32(shifted.raw, _mm512_set1_epi32(INT32_MIN), _mm512_castps_si512(size.raw), 0xEA))};
#else
    return hn::CopySignToAbs(size, hn::BitCast(Floats(), shifted));
#endif
}

/// The same way or turned round, by one bit of the hash.
template <int bit>
HWY_INLINE F turnedBy(F v, W hash) {
    const W sign = hn::And(hn::ShiftLeft<31 - bit>(hash), hn::Set(Words(), 0x80000000u));
    return hn::BitCast(Floats(), hn::Xor(hn::BitCast(Words(), v), sign));
}

/// The lattice cell around a place in one dimension.
struct AxisCell {
    F into;         ///< 0 … 1
    W first, next;  ///< hash parts of its two sides
};

struct Outputs {
    F value[3];
};

constexpr std::uint32_t latticeX = 0x8DA6B343u, latticeY = 0xD8163841u, latticeZ = 0xCB1AB31Fu, latticeTime = 0x9C06FAF5u;

/// A cell along a dimension without end.
template <std::uint32_t factor>
HWY_INLINE AxisCell endlessCell(F x) {
    const F cell = hn::Floor(x);
    const W word = latticeWord(cell, factor);
    return {hn::Sub(x, cell), word, hn::Add(word, hn::Set(Words(), factor))};
}
/// A cell along a dimension that comes back to where it began after `period` whole cells.
template <std::uint32_t factor>
HWY_INLINE AxisCell returningCell(F x, float period) {
    const F length = number(period), cell = hn::Floor(x);
    const auto back = [&](F c) { return hn::Sub(c, hn::Mul(length, hn::Floor(hn::Div(c, length)))); };
    return {hn::Sub(x, cell), latticeWord(back(cell), factor), latticeWord(back(hn::Add(cell, number(1))), factor)};
}

/// The hash of a corner, from the parts of its coordinates.
HWY_INLINE W cornerHash(W parts) {
    const W h = hn::Mul(hn::Xor(parts, hn::ShiftRight<15>(parts)), hn::Set(Words(), 0x2C1B3C6Du));
    return hn::Xor(h, hn::ShiftRight<12>(h));
}

template <int outputs>
HWY_INLINE Outputs gradientNoise(const AxisCell& x, F y, F z, const AxisCell& time, std::uint32_t seed) {
    const F cy = hn::Floor(y), cz = hn::Floor(z);
    const F one = number(1);
    const F fx = x.into, fy = hn::Sub(y, cy), fz = hn::Sub(z, cz), fw = time.into;
    constexpr std::uint32_t ky = latticeY, kz = latticeZ;
    const W seeded = hn::Set(Words(), seed * 0x9E3779B9u);
    const W hy0 = latticeWord(cy, ky), hz0 = latticeWord(cz, kz);
    const W hx[2] = {hn::Add(x.first, seeded), hn::Add(x.next, seeded)};
    const W hy[2] = {hy0, hn::Add(hy0, hn::Set(Words(), ky))};
    const W hz[2] = {hz0, hn::Add(hz0, hn::Set(Words(), kz))};
    const W hw[2] = {time.first, time.next};
    // Distances to the far side of the cell are negative; only sizes are kept, and the hash's bits are flipped there.
    const F dx[2] = {fx, hn::Sub(one, fx)}, dy[2] = {fy, hn::Sub(one, fy)};
    const F dz[2] = {fz, hn::Sub(one, fz)}, dw[2] = {fw, hn::Sub(one, fw)};
    constexpr std::uint32_t farX = 1, farY = 2, farZ = 4, farW = 8;
    const F ux = fade(fx), uy = fade(fy), uz = fade(fz), uw = fade(fw);
    Outputs acrossW[2];
#pragma GCC unroll 2
    for (int w = 0; w < 2; ++w) {
        Outputs acrossZ[2];
#pragma GCC unroll 2
        for (int k = 0; k < 2; ++k) {
            const W hwz = hn::Add(hw[w], hz[k]);
            Outputs acrossY[2];
#pragma GCC unroll 2
            for (int j = 0; j < 2; ++j) {
                const W hwzy = hn::Add(hwz, hy[j]);
                Outputs corner[2];
#pragma GCC unroll 2
                for (int i = 0; i < 2; ++i) {
                    const W h = hn::Xor(cornerHash(hn::Add(hwzy, hx[i])),
                                        hn::Set(Words(), (i ? farX : 0) | (j ? farY : 0) | (k ? farZ : 0) | (w ? farW : 0)));
                    const F a = withSign<0>(dx[i], h), b = withSign<1>(dy[j], h), c = withSign<2>(dz[k], h), d = withSign<3>(dw[w], h);
                    const F ab = hn::Add(a, b), cd = hn::Add(c, d);
                    corner[i].value[0] = hn::Add(ab, cd);
                    if constexpr (outputs > 1) {
                        corner[i].value[1] = turnedBy<4>(hn::Add(hn::Sub(a, b), hn::Sub(c, d)), h);
                        corner[i].value[2] = turnedBy<5>(hn::Sub(ab, cd), h);
                    }
                }
                for (int o = 0; o < outputs; ++o) acrossY[j].value[o] = mix(corner[0].value[o], corner[1].value[o], ux);
            }
            for (int o = 0; o < outputs; ++o) acrossZ[k].value[o] = mix(acrossY[0].value[o], acrossY[1].value[o], uy);
        }
        for (int o = 0; o < outputs; ++o) acrossW[w].value[o] = mix(acrossZ[0].value[o], acrossZ[1].value[o], uz);
    }
    Outputs result;
    for (int o = 0; o < outputs; ++o) result.value[o] = mix(acrossW[0].value[o], acrossW[1].value[o], uw);
    return result;
}

/// Cells of time; with a period the last one leads back to the first.
HWY_INLINE AxisCell timeCell(F time, float period) {
    constexpr std::uint32_t kw = latticeTime;
    F cell = hn::Floor(time);
    const F into = hn::Sub(time, cell);
    F next = hn::Add(cell, number(1));
    if (period > 0) {
        const F length = number(period);
        cell = hn::IfThenElse(hn::Ge(cell, length), hn::Zero(Floats()), cell);
        next = hn::IfThenElse(hn::Ge(next, length), hn::Zero(Floats()), next);
    }
    return {into, latticeWord(cell, kw), latticeWord(next, kw)};
}

/// Hills −1 … 1 over three numbers, one hill a unit, still.
HWY_INLINE F hillsAt(F x, F y, F z) {
    const Outputs v = gradientNoise<1>(endlessCell<latticeX>(x), y, z, timeCell(hn::Zero(Floats()), 0), 0);
    return hn::Min(hn::Max(hn::Mul(v.value[0], number(1.6f)), number(-1)), number(1));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
