// Sixteen places on vector lanes, compiled once per processor target. Include after foreach_target.h.
#if defined(GSWARM_PLACE_LANES_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_PLACE_LANES_INL_H_
#undef GSWARM_PLACE_LANES_INL_H_
#else
#define GSWARM_PLACE_LANES_INL_H_
#endif

#include "core/base/lanes-inl.h"
#include "core/picture/place_lanes.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE F load(const NumberLanes& from, int place) { return hn::Load(Floats(), from.lane + place); }
HWY_INLINE void store(F v, NumberLanes& to, int place) { hn::Store(v, Floats(), to.lane + place); }
HWY_INLINE Vector load(const VectorLanes& from, int place) { return {load(from.x, place), load(from.y, place), load(from.z, place)}; }
HWY_INLINE void store(const Vector& v, VectorLanes& to, int place) {
    store(v.x, to.x, place), store(v.y, to.y, place), store(v.z, to.z, place);
}

HWY_INLINE Vector operator+(const Vector& a, const Vector& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
HWY_INLINE Vector operator-(const Vector& a, const Vector& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
HWY_INLINE Vector operator*(const Vector& a, const Vector& b) { return {a.x * b.x, a.y * b.y, a.z * b.z}; }
HWY_INLINE Vector operator*(const Vector& a, F b) { return {a.x * b, a.y * b, a.z * b}; }
HWY_INLINE Vector unit(const Vector& a) { return a * (number(1) / hn::Sqrt(hn::Max(dot(a, a), number(1e-30f)))); }

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
