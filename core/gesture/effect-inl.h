// What kernels of gestures share. Include after lanes-inl.h.
#if defined(GSWARM_EFFECT_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_EFFECT_INL_H_
#undef GSWARM_EFFECT_INL_H_
#else
#define GSWARM_EFFECT_INL_H_
#endif

#include <glm/gtc/quaternion.hpp>

#include "core/base/lanes-inl.h"
#include "core/gesture/gesture_kind.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

using Mask = hn::Mask<Floats>;

HWY_INLINE Vector loadVector(const Columns3& c, int i) { return {load(c.x + i), load(c.y + i), load(c.z + i)}; }
HWY_INLINE Quaternion loadQuaternion(const Columns4& c, int i) { return {load(c.x + i), load(c.y + i), load(c.z + i), load(c.w + i)}; }
HWY_INLINE void storeVector(const Vector& v, Columns3& c, int i) {
    store(v.x, c.x + i);
    store(v.y, c.y + i);
    store(v.z, c.z + i);
}
HWY_INLINE void storeQuaternion(const Quaternion& q, Columns4& c, int i) {
    store(q.x, c.x + i);
    store(q.y, c.y + i);
    store(q.z, c.z + i);
    store(q.w, c.w + i);
}
HWY_INLINE Quaternion constant(const glm::quat& q) { return {number(q.x), number(q.y), number(q.z), number(q.w)}; }
HWY_INLINE Vector constant(const glm::vec3& v) { return {number(v.x), number(v.y), number(v.z)}; }
HWY_INLINE Vector readVector(const LaneNumber* n, int i) { return {read(n[0], i), read(n[1], i), read(n[2], i)}; }
HWY_INLINE Vector subtract(const Vector& a, const Vector& b) { return {hn::Sub(a.x, b.x), hn::Sub(a.y, b.y), hn::Sub(a.z, b.z)}; }
HWY_INLINE Vector scaled(const Vector& v, F s) { return {hn::Mul(v.x, s), hn::Mul(v.y, s), hn::Mul(v.z, s)}; }
HWY_INLINE Vector cross(const Vector& a, const Vector& b) {
    using hn::Mul, hn::Sub;
    return {Sub(Mul(a.y, b.z), Mul(a.z, b.y)), Sub(Mul(a.z, b.x), Mul(a.x, b.z)), Sub(Mul(a.x, b.y), Mul(a.y, b.x))};
}
HWY_INLINE Vector choose(Mask mask, const Vector& yes, const Vector& no) {
    return {hn::IfThenElse(mask, yes.x, no.x), hn::IfThenElse(mask, yes.y, no.y), hn::IfThenElse(mask, yes.z, no.z)};
}
/// Unit length, or `instead` where v is next to nothing.
HWY_INLINE Vector unit(const Vector& v, const Vector& instead) {
    const F length = hn::Sqrt(dot(v, v));
    const auto fine = hn::Gt(length, number(1e-6f));
    return choose(fine, scaled(v, hn::Div(number(1), hn::Max(length, number(1e-6f)))), instead);
}
/// A turn of radians about a unit axis.
HWY_INLINE Quaternion turnAbout(const Vector& axis, F radians) {
    const SineCosine half = sineCosine(hn::Mul(radians, number(0.5f)));
    return {hn::Mul(axis.x, half.sine), hn::Mul(axis.y, half.sine), hn::Mul(axis.z, half.sine), half.cosine};
}

/// The rotation whose columns are three unit axes at right angles (Shepperd's method: the largest part first).
HWY_INLINE Quaternion fromAxes(const Vector& x, const Vector& y, const Vector& z) {
    using hn::Add, hn::IfThenElse, hn::Max, hn::Sub;
    const F one = number(1), zero = hn::Zero(Floats());
    const F tw = Add(one, Add(x.x, Add(y.y, z.z))), tx = Add(one, Sub(x.x, Add(y.y, z.z)));
    const F ty = Add(one, Sub(y.y, Add(x.x, z.z))), tz = Add(one, Sub(z.z, Add(x.x, y.y)));
    const F a = Sub(y.z, z.y), b = Sub(z.x, x.z), c = Sub(x.y, y.x);
    const F d = Add(x.y, y.x), e = Add(z.x, x.z), f = Add(y.z, z.y);
    Quaternion q{a, b, c, tw};
    F largest = tw;
    const auto better = [&](F t, const Quaternion& other) {
        const auto more = hn::Gt(t, largest);
        q = {IfThenElse(more, other.x, q.x), IfThenElse(more, other.y, q.y), IfThenElse(more, other.z, q.z),
             IfThenElse(more, other.w, q.w)};
        largest = Max(largest, t);
    };
    better(tx, {tx, d, e, a});
    better(ty, {d, ty, f, b});
    better(tz, {e, f, tz, c});
    // One sign for all, so that halfway blends never go the long way round.
    const auto flip = hn::Lt(q.w, zero);
    q = {IfThenElse(flip, hn::Neg(q.x), q.x), IfThenElse(flip, hn::Neg(q.y), q.y), IfThenElse(flip, hn::Neg(q.z), q.z), hn::Abs(q.w)};
    return normalize(q);
}

/// x for the three axes: the same column three times, or three.
HWY_INLINE Vector drivenVector(const Columns3& driven, int components, int i) {
    if (components == 3) return loadVector(driven, i);
    const F x = load(driven.x + i);
    return {x, x, x};
}
/// x for what goes toward something: 0 … 1, so a signed value enters as (v + 1) / 2.
HWY_INLINE F toward(const GestureInput& in, const Block& block, int i) {
    const F x = load(block.driven->x + i);
    return in.patternSigned ? hn::Mul(hn::Add(x, load(in.towards + i)), number(0.5f)) : x;
}
HWY_INLINE Mask nonZero(const Vector& v) {
    const F zero = hn::Zero(Floats());
    return hn::Or(hn::Or(hn::Ne(v.x, zero), hn::Ne(v.y, zero)), hn::Ne(v.z, zero));
}

/// Sets a card's bit in one channel's columns.
struct Marker {
    WordColumn* words;
    int word, wordCount;
    W bit;

    HWY_INLINE void mark(Mask touched, int i) const {
        const W now = load(words[word] + i);
        store(hn::Or(now, hn::IfThenElseZero(hn::RebindMask(Words(), touched), bit)), words[word] + i);
    }
    /// Where the card went the whole way, what earlier cards did to the channel is gone.
    HWY_INLINE void overwrite(Mask whole, int i) const {
        for (int k = 0; k < wordCount; ++k) store(hn::IfThenZeroElse(hn::RebindMask(Words(), whole), load(words[k] + i)), words[k] + i);
    }
};

HWY_INLINE Marker markerFor(const GestureInput& in, EffectColumns& effect, EffectChannel channel) {
    return {effect.use(channel, in.effectWords), in.card / 32, in.card / 32 + 1, hn::Set(Words(), 1u << (in.card % 32))};
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
