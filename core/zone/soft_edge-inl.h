// Include after lanes-inl.h.
#if defined(GSWARM_SOFT_EDGE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef GSWARM_SOFT_EDGE_INL_H_
#undef GSWARM_SOFT_EDGE_INL_H_
#else
#define GSWARM_SOFT_EDGE_INL_H_
#endif

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// 0 at the surface and outside, 1 from `softEdge` metres inside, smooth between. `depth` is metres inward.
/// A soft edge of 0 is a step.
HWY_INLINE F softEdgeWeight(F depth, F softEdge) { return smooth(clamp01(hn::Div(depth, hn::Max(softEdge, number(1e-6f))))); }

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
