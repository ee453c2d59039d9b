// Mathematics on vector lanes, compiled once per processor target. Include after foreach_target.h.
//
// Rules that keep the bits the same on every target: only add, subtract, multiply, divide, square root, floor,
// comparisons and integer arithmetic; never MulAdd, never estimates. The plain-C++ definitions these functions must
// match to the bit stand in tests/core/scalar_definition.h.
#if defined(GSWARM_LANES_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_LANES_INL_H_
#undef GSWARM_LANES_INL_H_
#else
#define GSWARM_LANES_INL_H_
#endif

#include <hwy/highway.h>
#include <cmath>
#include <cstdint>

#include "core/base/lane_number.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// At most 16 lanes, the step of every column loop.
using Floats = hn::CappedTag<float, 16>;
using Words = hn::CappedTag<std::uint32_t, 16>;
using Wholes = hn::CappedTag<std::int32_t, 16>;
using F = hn::Vec<Floats>;
using W = hn::Vec<Words>;
using I = hn::Vec<Wholes>;

HWY_INLINE F number(float v) { return hn::Set(Floats(), v); }
HWY_INLINE F load(const float* from) { return hn::Load(Floats(), from); }
HWY_INLINE W load(const std::uint32_t* from) { return hn::Load(Words(), from); }
HWY_INLINE void store(F v, float* to) { hn::Store(v, Floats(), to); }
HWY_INLINE void store(W v, std::uint32_t* to) { hn::Store(v, Words(), to); }
HWY_INLINE F read(const LaneNumber& n, int lane) { return n.column ? load(n.column + lane) : number(n.value); }
HWY_INLINE int lanes() { return static_cast<int>(hn::Lanes(Floats())); }

HWY_INLINE F mix(F a, F b, F x) { return hn::Add(a, hn::Mul(hn::Sub(b, a), x)); }
HWY_INLINE F clamp01(F x) { return hn::Min(hn::Max(x, hn::Zero(Floats())), number(1)); }
/// The last number among as many as are counted together; 1 where that is 0.
HWY_INLINE F lastOf(F stretch) { return hn::Max(hn::Sub(stretch, number(1)), number(1)); }
/// 3x² − 2x³ for x in 0 … 1.
HWY_INLINE F smooth(F x) { return hn::Mul(hn::Mul(x, x), hn::Sub(number(3), hn::Add(x, x))); }

/// A whole float as a whole number; from ± 2³¹ on it is the least one there is, as the processor has it: Highway's
/// conversion takes four instructions more for the greatest.
HWY_INLINE I toWhole(F x) {
#if HWY_TARGET == HWY_AVX3
    return I{_mm512_cvttps_epi32(x.raw)};
#elif HWY_TARGET == HWY_AVX2
    return I{_mm256_cvttps_epi32(x.raw)};
#elif HWY_TARGET == HWY_SSE4
    return I{_mm_cvttps_epi32(x.raw)};
#else
    const auto fits = hn::RebindMask(Wholes(), hn::Lt(hn::Abs(x), number(2147483648.0f)));
    return hn::IfThenElse(fits, hn::ConvertTo(Wholes(), x), hn::Set(Wholes(), INT32_MIN));
#endif
}

/// The same number, or turned round where the uppermost bit of the word is set.
HWY_INLINE F turnedBy(F v, W word) {
#if HWY_TARGET == HWY_AVX3
    const __m512i sign = _mm512_set1_epi32(INT32_MIN), bits = _mm512_castps_si512(v.raw);
    return F{_mm512_castsi512_ps(_mm512_ternarylogic_epi32(word.raw, sign, bits, 0x6A))};
#else
    return hn::BitCast(Floats(), hn::Xor(hn::BitCast(Words(), v), hn::And(word, hn::Set(Words(), 0x80000000u))));
#endif
}

/// Bits shuffled so that neighbouring inputs give unrelated outputs (Chris Wellons' lowbias32).
HWY_INLINE W scramble(W h) {
    h = hn::Xor(h, hn::ShiftRight<16>(h));
    h = hn::Mul(h, hn::Set(Words(), 0x7FEB352Du));
    h = hn::Xor(h, hn::ShiftRight<15>(h));
    h = hn::Mul(h, hn::Set(Words(), 0x846CA68Bu));
    return hn::Xor(h, hn::ShiftRight<16>(h));
}

/// 24 upper bits as a float in 0 … 1 (1 excluded).
HWY_INLINE F unitFloat(W h) {
    const I whole = hn::BitCast(Wholes(), hn::ShiftRight<8>(h));
    return hn::Mul(hn::ConvertTo(Floats(), whole), number(1.0f / 16777216.0f));
}

/// Chance of one instance: seed, id and channel in, 0 … 1 out.
HWY_INLINE F chance(std::uint32_t seed, W idLow, W idHigh, std::uint32_t channel) {
    const W start = hn::Set(Words(), seed * 0x9E3779B9u ^ (channel + 1) * 0x85EBCA6Bu);
    const W low = scramble(hn::Xor(idLow, start));
    return unitFloat(scramble(hn::Add(hn::Xor(low, idHigh), start)));
}

struct SineCosine {
    F sine, cosine;
};

/// Sine and cosine of radians up to ± 100 000, error below 4e-7 near the origin.
/// Reduction to ± π/4 in three parts and minimax polynomials (Cephes, S. Moshier).
HWY_INLINE SineCosine sineCosine(F radians) {
    const F turns = hn::Floor(hn::Add(hn::Mul(radians, number(0.636619772367581f)), number(0.5f)));
    F r = hn::Sub(radians, hn::Mul(turns, number(1.5703125f)));
    r = hn::Sub(r, hn::Mul(turns, number(4.837512969970703125e-4f)));
    r = hn::Sub(r, hn::Mul(turns, number(7.549789948768648e-8f)));
    const F r2 = hn::Mul(r, r);
    F s = hn::Add(hn::Mul(r2, number(-1.9515295891e-4f)), number(8.3321608736e-3f));
    s = hn::Sub(hn::Mul(s, r2), number(1.6666654611e-1f));
    s = hn::Add(r, hn::Mul(hn::Mul(s, r2), r));
    F c = hn::Sub(hn::Mul(r2, number(2.443315711809948e-5f)), number(1.388731625493765e-3f));
    c = hn::Add(hn::Mul(c, r2), number(4.166664568298827e-2f));
    c = hn::Add(hn::Sub(hn::Mul(hn::Mul(c, r2), r2), hn::Mul(r2, number(0.5f))), number(1));
    const W quarter = hn::BitCast(Words(), toWhole(turns));
    const auto swapped = hn::RebindMask(Floats(), hn::TestBit(quarter, hn::Set(Words(), 1u)));
    const F sine = hn::IfThenElse(swapped, c, s);
    const F cosine = hn::IfThenElse(swapped, s, c);
    const W next = hn::Add(quarter, hn::Set(Words(), 1u));
    return {turnedBy(sine, hn::ShiftLeft<30>(quarter)), turnedBy(cosine, hn::ShiftLeft<30>(next))};
}

/// Base-2 logarithm of a normal positive float, error below 2e-6 (atanh series on the mantissa around 1).
HWY_INLINE F log2(F x) {
    const W bits = hn::BitCast(Words(), x);
    const W shifted = hn::Sub(bits, hn::Set(Words(), 0x3F3504F3u));  // so that the mantissa lies in √½ … √2
    const I exponent = hn::ShiftRight<23>(hn::BitCast(Wholes(), shifted));
    const F mantissa = hn::BitCast(Floats(), hn::Add(hn::And(shifted, hn::Set(Words(), 0x007FFFFFu)), hn::Set(Words(), 0x3F3504F3u)));
    const F z = hn::Div(hn::Sub(mantissa, number(1)), hn::Add(mantissa, number(1)));
    const F z2 = hn::Mul(z, z);
    F p = hn::Add(hn::Mul(z2, number(0.41219859f)), number(0.57707802f));
    p = hn::Add(hn::Mul(p, z2), number(0.96179669f));
    p = hn::Add(hn::Mul(p, z2), number(2.88539008f));
    return hn::Add(hn::ConvertTo(Floats(), exponent), hn::Mul(p, z));
}

/// 2 to the power x for x in −126 … 127, relative error below 3e-7 (Taylor series on ± ½).
HWY_INLINE F exp2(F x) {
    const F whole = hn::Floor(hn::Add(x, number(0.5f)));
    const F f = hn::Mul(hn::Sub(x, whole), number(0.69314718056f));
    F p = hn::Add(hn::Mul(f, number(1.0f / 720)), number(1.0f / 120));
    p = hn::Add(hn::Mul(p, f), number(1.0f / 24));
    p = hn::Add(hn::Mul(p, f), number(1.0f / 6));
    p = hn::Add(hn::Mul(p, f), number(0.5f));
    p = hn::Add(hn::Mul(p, f), number(1));
    p = hn::Add(hn::Mul(p, f), number(1));
    const I bits = hn::ShiftLeft<23>(hn::Add(toWhole(whole), hn::Set(Wholes(), 127)));
    return hn::Mul(p, hn::BitCast(Floats(), bits));
}

/// sRGB encoding to linear light, extended to negative values by symmetry.
HWY_INLINE F decodeSrgb(F x) {
    const F size = hn::Abs(x);
    const F base = hn::Div(hn::Add(size, number(0.055f)), number(1.055f));
    const F curve = exp2(hn::Mul(log2(base), number(2.4f)));
    const F linear = hn::IfThenElse(hn::Le(size, number(0.04045f)), hn::Div(size, number(12.92f)), curve);
    return hn::CopySign(linear, x);
}

struct Vector {
    F x, y, z;
};
struct Quaternion {
    F x, y, z, w;
};

HWY_INLINE F dot(const Vector& a, const Vector& b) { return hn::Add(hn::Add(hn::Mul(a.x, b.x), hn::Mul(a.y, b.y)), hn::Mul(a.z, b.z)); }

/// The product that turns by b first and then by a.
HWY_INLINE Quaternion multiply(const Quaternion& a, const Quaternion& b) {
    using hn::Add, hn::Mul, hn::Sub;
    return {Add(Sub(Add(Mul(a.w, b.x), Mul(a.x, b.w)), Mul(a.z, b.y)), Mul(a.y, b.z)),
            Add(Sub(Add(Mul(a.w, b.y), Mul(a.y, b.w)), Mul(a.x, b.z)), Mul(a.z, b.x)),
            Add(Sub(Add(Mul(a.w, b.z), Mul(a.z, b.w)), Mul(a.y, b.x)), Mul(a.x, b.y)),
            Sub(Sub(Sub(Mul(a.w, b.w), Mul(a.x, b.x)), Mul(a.y, b.y)), Mul(a.z, b.z))};
}

HWY_INLINE Quaternion normalize(const Quaternion& q) {
    using hn::Add, hn::Mul;
    const F length = hn::Sqrt(Add(Add(Mul(q.x, q.x), Mul(q.y, q.y)), Add(Mul(q.z, q.z), Mul(q.w, q.w))));
    const F scale = hn::Div(number(1), hn::Max(length, number(1e-20f)));
    return {Mul(q.x, scale), Mul(q.y, scale), Mul(q.z, scale), Mul(q.w, scale)};
}

/// v turned by the unit quaternion q: v + 2 (w (u × v) + u × (u × v)).
HWY_INLINE Vector rotate(const Quaternion& q, const Vector& v) {
    using hn::Add, hn::Mul, hn::Sub;
    const F cx = Sub(Mul(q.y, v.z), Mul(q.z, v.y));
    const F cy = Sub(Mul(q.z, v.x), Mul(q.x, v.z));
    const F cz = Sub(Mul(q.x, v.y), Mul(q.y, v.x));
    const F dx = Add(Mul(q.w, cx), Sub(Mul(q.y, cz), Mul(q.z, cy)));
    const F dy = Add(Mul(q.w, cy), Sub(Mul(q.z, cx), Mul(q.x, cz)));
    const F dz = Add(Mul(q.w, cz), Sub(Mul(q.x, cy), Mul(q.y, cx)));
    return {Add(v.x, Add(dx, dx)), Add(v.y, Add(dy, dy)), Add(v.z, Add(dz, dz))};
}

HWY_INLINE Quaternion conjugate(const Quaternion& q) { return {hn::Neg(q.x), hn::Neg(q.y), hn::Neg(q.z), q.w}; }

/// Three turns one after the other: about X, then Y, then Z (radians).
HWY_INLINE Quaternion turnXyz(F x, F y, F z) {
    using hn::Add, hn::Mul, hn::Sub;
    const F half = number(0.5f);
    const SineCosine a = sineCosine(Mul(x, half));
    const SineCosine b = sineCosine(Mul(y, half));
    const SineCosine c = sineCosine(Mul(z, half));
    const F cb = Mul(c.cosine, b.cosine), cs = Mul(c.cosine, b.sine);
    const F sb = Mul(c.sine, b.cosine), ss = Mul(c.sine, b.sine);
    return {Sub(Mul(cb, a.sine), Mul(ss, a.cosine)), Add(Mul(cs, a.cosine), Mul(sb, a.sine)), Sub(Mul(sb, a.cosine), Mul(cs, a.sine)),
            Add(Mul(cb, a.cosine), Mul(ss, a.sine))};
}

/// Angle of a unit quaternion's half turn, cosine in −1 … 1 → radians 0 … π.
/// Abramowitz and Stegun 4.4.46, error below 2e-8 before rounding.
HWY_INLINE F arcCosine(F x) {
    const F a = hn::Min(hn::Abs(x), number(1));
    F p = hn::Add(hn::Mul(a, number(-0.0012624911f)), number(0.0066700901f));
    p = hn::Sub(hn::Mul(p, a), number(0.0170881256f));
    p = hn::Add(hn::Mul(p, a), number(0.0308918810f));
    p = hn::Sub(hn::Mul(p, a), number(0.0501743046f));
    p = hn::Add(hn::Mul(p, a), number(0.0889789874f));
    p = hn::Sub(hn::Mul(p, a), number(0.2145988016f));
    p = hn::Add(hn::Mul(p, a), number(1.5707963050f));
    const F angle = hn::Mul(p, hn::Sqrt(hn::Sub(number(1), a)));
    return hn::IfThenElse(hn::Lt(x, hn::Zero(Floats())), hn::Sub(number(3.14159265359f), angle), angle);
}

/// Arc tangent, radians, error below 2e-7 (reduction to ± tan π/8 and a minimax polynomial; Cephes, S. Moshier).
HWY_INLINE F arcTangent(F x) {
    using hn::Add, hn::Div, hn::Mul, hn::Sub;
    const F size = hn::Abs(x), one = number(1);
    const auto wide = hn::Gt(size, number(2.414213562373095f)), middle = hn::Gt(size, number(0.4142135623730950f));
    const F reduced = hn::IfThenElse(wide, hn::Neg(Div(one, size)), hn::IfThenElse(middle, Div(Sub(size, one), Add(size, one)), size));
    const F base = hn::IfThenElse(wide, number(1.5707963267948966f), hn::IfThenElseZero(middle, number(0.7853981633974483f)));
    const F z = Mul(reduced, reduced);
    F p = Sub(Mul(z, number(8.05374449538e-2f)), number(1.38776856032e-1f));
    p = Add(Mul(p, z), number(1.99777106478e-1f));
    p = Sub(Mul(p, z), number(3.33329491539e-1f));
    return hn::CopySign(Add(base, Add(Mul(Mul(p, z), reduced), reduced)), x);
}

/// From a toward b along the shorter way by x, going on past 0 and 1. At exactly half a turn it goes about the first
/// of a's axes, which is always perpendicular there.
HWY_INLINE Quaternion slerp(const Quaternion& a, const Quaternion& b, F x) {
    using hn::Add, hn::Mul;
    const Quaternion delta = multiply(conjugate(a), b);
    const W sign = hn::And(hn::BitCast(Words(), delta.w), hn::Set(Words(), 0x80000000u));
    const F flip = hn::BitCast(Floats(), sign);
    const F vx = hn::Xor(delta.x, flip), vy = hn::Xor(delta.y, flip), vz = hn::Xor(delta.z, flip);
    const F sine = hn::Sqrt(Add(Add(Mul(vx, vx), Mul(vy, vy)), Mul(vz, vz)));
    const auto narrow = hn::Lt(sine, number(0.7f));  // the arc sine is the exact one for small turns
    const F arc = arcCosine(hn::IfThenElse(narrow, sine, hn::Abs(delta.w)));
    const F half = hn::IfThenElse(narrow, hn::Sub(number(1.57079632679f), arc), arc);
    const SineCosine part = sineCosine(Mul(half, x));
    const auto tiny = hn::Lt(sine, number(1e-7f));
    const F scale = hn::IfThenElse(tiny, x, hn::Div(part.sine, hn::Max(sine, number(1e-20f))));
    const Quaternion step{Mul(vx, scale), Mul(vy, scale), Mul(vz, scale), part.cosine};
    return normalize(multiply(a, step));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
