// Gradient noise in four dimensions, place and time: simplex noise (after Perlin 2001 and Gustavson 2005) with the axis of
// time along the diagonal of the lattice, so that space is cut through it evenly and a step along the diagonal is a whole
// step of the lattice: after any number of those the noise can repeat. Three outputs share one hash per lattice corner: four
// of its bits are the signs of the first gradient (± 1, ± 1, ± 1, ± 1), the other two stand at right angles to it and to
// each other, each turned round by a bit of its own; so each output alone is evenly spread over all sixteen gradients, no
// two go together, and the sums of distances are shared.
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

HWY_INLINE W latticeWord(F cell, std::uint32_t factor) { return hn::Mul(hn::BitCast(Words(), toWhole(cell)), hn::Set(Words(), factor)); }

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

template <int bit>
HWY_INLINE F turnedByBit(F v, W hash) {
    return turnedBy(v, hn::ShiftLeft<31 - bit>(hash));
}

/// What one corner adds to the noise at a distance d from it.
template <int outputs>
HWY_INLINE void addCorner(const F (&d)[4], W parts, Outputs& sum) {
    using hn::Add, hn::Mul, hn::Sub;
    const F reach = Sub(number(0.5f), Add(Add(Mul(d[0], d[0]), Mul(d[1], d[1])), Add(Mul(d[2], d[2]), Mul(d[3], d[3]))));
    const F near = hn::Max(reach, hn::Zero(Floats())), weight = Mul(Mul(near, near), near);
    const W h = cornerHash(parts);
    const F a = turnedByBit<0>(d[0], h), b = turnedByBit<1>(d[1], h), c = turnedByBit<2>(d[2], h), e = turnedByBit<3>(d[3], h);
    const F ab = Add(a, b), ce = Add(c, e);
    sum.value[0] = Add(sum.value[0], Mul(weight, Add(ab, ce)));
    if constexpr (outputs > 1) {
        sum.value[1] = Add(sum.value[1], Mul(weight, turnedByBit<4>(Add(Sub(a, b), Sub(c, e)), h)));
        sum.value[2] = Add(sum.value[2], Mul(weight, turnedByBit<5>(Sub(ab, ce), h)));
    }
}

constexpr float latticeBack = 0.138196601f;  // (5 − √5) / 20, from the lattice of cubes to that of simplices

/// Where a place lies in the lattice.
struct Simplex {
    F from[4];   ///< from the first corner of its simplex
    I rank[4];   ///< of the axes: the way from the first corner to the last goes along that of rank 3 first, of rank 0 last
    W parts;     ///< of the first corner's hash
    W lastStep;  ///< what a step along the last axis adds to them
};

/// Time 1 is a step along the diagonal. With a period the lattice repeats after as many whole steps.
HWY_INLINE Simplex simplexAt(F x, F y, F z, F time, float period, std::uint32_t seed) {
    using hn::Add, hn::Mul, hn::Sub;
    constexpr std::uint32_t factor[4] = {latticeX, latticeY, latticeZ, latticeTime};
    const F scale = number(0.307f), one = number(1);
    const F px = Mul(x, scale), py = Mul(y, scale), pz = Mul(z, scale);
    const F later = Add(time, px), sooner = Sub(time, px), sum = Add(py, pz), difference = Sub(py, pz);
    const F at[4] = {Add(later, sum), Sub(later, sum), Add(sooner, difference), Sub(sooner, difference)};
    Simplex out;
    F cell[4], into[4];
    out.parts = hn::Set(Words(), seed * 0x9E3779B9u);
#pragma GCC unroll 4
    for (int i = 0; i < 4; ++i) {
        cell[i] = hn::Floor(at[i]);
        into[i] = Sub(at[i], cell[i]);
        out.parts = Add(out.parts, latticeWord(cell[i], factor[i]));
    }
    out.lastStep = hn::Set(Words(), latticeTime);
    if (period > 0) {
        // Whole periods are taken off all four coordinates; the corner after the last begins anew.
        const std::uint32_t whole = static_cast<std::uint32_t>(period) * (factor[0] + factor[1] + factor[2] + factor[3]);
        const F laps = hn::Floor(Mul(Add(cell[3], number(0.5f)), number(1 / period)));
        out.parts = Sub(out.parts, latticeWord(laps, whole));
        const auto last = hn::Eq(Add(Sub(cell[3], Mul(laps, number(period))), one), number(period));
        out.lastStep = hn::IfThenElse(hn::RebindMask(Words(), last), hn::Set(Words(), latticeTime - whole), out.lastStep);
    }
    const F shift = Mul(Add(Add(into[0], into[1]), Add(into[2], into[3])), number(latticeBack));
    for (int i = 0; i < 4; ++i) out.from[i] = Sub(into[i], shift);
    // −1 where the first of two is the larger.
    const auto over = [&](int i, int j) { return hn::ShiftRight<31>(hn::BitCast(Wholes(), Sub(into[j], into[i]))); };
    const I o01 = over(0, 1), o02 = over(0, 2), o03 = over(0, 3), o12 = over(1, 2), o13 = over(1, 3), o23 = over(2, 3);
    const auto whole = [](int v) { return hn::Set(Wholes(), v); };
    out.rank[0] = hn::Sub(whole(0), hn::Add(hn::Add(o01, o02), o03));
    out.rank[1] = hn::Sub(hn::Add(whole(1), o01), hn::Add(o12, o13));
    out.rank[2] = hn::Sub(hn::Add(hn::Add(whole(2), o02), o12), o23);
    out.rank[3] = hn::Add(hn::Add(whole(3), o03), hn::Add(o13, o23));
    return out;
}

/// Noise, mostly within ± 1, whose hills stand about one unit of place apart.
template <int outputs>
HWY_INLINE Outputs gradientNoise(const Simplex& at) {
    using hn::Add, hn::Sub;
    const F one = number(1);
    const W step[4] = {hn::Set(Words(), latticeX), hn::Set(Words(), latticeY), hn::Set(Words(), latticeZ), at.lastStep};
    Outputs out{{hn::Zero(Floats()), hn::Zero(Floats()), hn::Zero(Floats())}};
    addCorner<outputs>(at.from, at.parts, out);
#pragma GCC unroll 3
    for (int corner = 1; corner < 4; ++corner) {
        F there[4];
        W hash = at.parts;
#pragma GCC unroll 4
        for (int i = 0; i < 4; ++i) {
            const auto went = hn::Gt(at.rank[i], hn::Set(Wholes(), 3 - corner));
            const F from = Add(at.from[i], number(static_cast<float>(corner) * latticeBack));
            there[i] = hn::IfThenElse(hn::RebindMask(Floats(), went), Sub(from, one), from);
            hash = hn::IfThenElse(hn::RebindMask(Words(), went), Add(hash, step[i]), hash);
        }
        addCorner<outputs>(there, hash, out);
    }
    F there[4];
    for (int i = 0; i < 4; ++i) there[i] = Sub(Add(at.from[i], number(4 * latticeBack)), one);
    addCorner<outputs>(there, Add(Add(Add(at.parts, step[0]), Add(step[1], step[2])), step[3]), out);
    for (int o = 0; o < outputs; ++o) out.value[o] = hn::Mul(out.value[o], number(41.3f));
    return out;
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
    const Outputs v = gradientNoise<1>(simplexAt(x, y, z, hn::Zero(Floats()), 0, 0));
    return hn::Min(hn::Max(v.value[0], number(-1)), number(1));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
