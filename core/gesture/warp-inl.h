// What kernels of warps share. Include after effect-inl.h.
#if defined(GSWARM_WARP_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_WARP_INL_H_
#undef GSWARM_WARP_INL_H_
#else
#define GSWARM_WARP_INL_H_
#endif

#include "core/gesture/effect-inl.h"
#include "core/gesture/warp.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// What a warp makes of a place, in the coordinates of its axis: where it goes, how it is turned there (unit), and the columns of the
/// Jacobian.
struct Warped {
    Vector place;
    Quaternion turn;
    Vector alongX, alongY, alongZ;
};

HWY_INLINE Vector sum(const Vector& a, const Vector& b) { return {hn::Add(a.x, b.x), hn::Add(a.y, b.y), hn::Add(a.z, b.z)}; }

/// The turn of the polar decomposition of a matrix that is `across` times the identity but for what it does to a unit axis e, which becomes
/// `along` e + w with w at right angles to e: in the plane of both by atan(|w| / (across + along)).
HWY_INLINE Quaternion shearTurn(const Vector& e, const Vector& w, F acrossAndAlong) {
    using hn::Add, hn::Mul;
    const F one = number(1), tiny = number(1e-12f);
    const F length = hn::Max(hn::Sqrt(Add(dot(w, w), Mul(acrossAndAlong, acrossAndAlong))), tiny);
    const F cosine = hn::Div(acrossAndAlong, length);
    const F half = hn::Max(hn::Sqrt(Mul(Add(one, cosine), number(0.5f))), number(1e-4f));
    const F sine = hn::Div(one, Mul(length, Add(half, half)));
    const Vector axis = scaled(cross(e, w), sine);
    return normalize({axis.x, axis.y, axis.z, half});
}
HWY_INLINE Vector upward() { return {hn::Zero(Floats()), number(1), hn::Zero(Floats())}; }
HWY_INLINE Quaternion noTurn() {
    const F zero = hn::Zero(Floats());
    return {zero, zero, zero, number(1)};
}

/// How far along the axis a place lies between the limits, from the one of them that is nearest to the centre, or the centre where it
/// is between them; what stays where it is lies there.
struct AlongAxis {
    F inside, beyond;  ///< metres between the limits, and past them
    hn::Mask<Floats> within;
};
struct Limits {
    float low, high, still;
    explicit Limits(const LimitedWarp& warp) : low(warp.low()), high(warp.high()), still(std::clamp(0.0f, low, high)) {}
    float length() const { return high - low; }
    HWY_INLINE AlongAxis at(F y) const {
        const F held = hn::Min(hn::Max(y, number(low)), number(high));
        return {hn::Sub(held, number(still)), hn::Sub(y, held), hn::Eq(held, y)};
    }
};

/// Takes a block's instances along with `map(local place, i)`, by their weight.
template <class Map>
HWY_INLINE void warpLanes(const GestureInput& in, const Warp& warp, Block& block, EffectColumns& effect, const Map& map) {
    using hn::Add, hn::IfThenElse, hn::Mul;
    const Marker places = markerFor(in, effect, positionEffect);
    const Marker turns = warp.turns ? markerFor(in, effect, rotationEffect) : places;
    const Marker sizes = warp.sizes ? markerFor(in, effect, scaleEffect) : places;
    const Quaternion out = constant(warp.frame()), into = conjugate(out);
    const Vector centre = constant(warp.centre);
    const F zero = hn::Zero(Floats());
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F k = toward(in, block, i);
        const auto still = hn::Eq(k, zero);
        const Vector p = loadVector(block.position, i);
        const Warped warped = map(rotate(into, subtract(p, centre)), i);
        const Vector there = sum(centre, rotate(out, warped.place)), gone = subtract(there, p);
        const Vector moved = choose(still, p, sum(p, scaled(gone, k)));
        places.mark(nonZero(subtract(moved, p)), i);
        storeVector(moved, block.position, i);
        if (!warp.turns && !warp.sizes) continue;
        const Quaternion q = loadQuaternion(block.rotation, i);
        if (warp.sizes) {
            float* const scales[] = {block.scale.x, block.scale.y, block.scale.z};
            for (int axis = 0; axis < 3; ++axis) {
                const Vector own = rotate(into, rotate(q, constant(glm::vec3(axis == 0, axis == 1, axis == 2))));
                const Vector stretched = sum(sum(scaled(warped.alongX, own.x), scaled(warped.alongY, own.y)), scaled(warped.alongZ, own.z));
                const F stretch = hn::Max(hn::Sqrt(dot(stretched, stretched)), number(1e-6f));
                const F factor = IfThenElse(still, number(1), exp2(Mul(k, log2(stretch))));
                sizes.mark(hn::Ne(factor, number(1)), i);
                store(Mul(load(scales[axis] + i), factor), scales[axis] + i);
            }
        }
        if (warp.turns) {
            const Quaternion target = multiply(multiply(out, multiply(warped.turn, into)), q);
            const Quaternion turned = slerp(q, target, k);
            turns.mark(hn::And(hn::Ne(k, zero), hn::Lt(hn::Abs(warped.turn.w), number(1))), i);
            storeQuaternion({IfThenElse(still, q.x, turned.x), IfThenElse(still, q.y, turned.y), IfThenElse(still, q.z, turned.z),
                             IfThenElse(still, q.w, turned.w)},
                            block.rotation, i);
        }
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
