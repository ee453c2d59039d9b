// Zone between two endless parallel planes, across its own Y.
#include <algorithm>

#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/slab.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighSlab(const ZoneInput& in, float* weight) {
    using hn::Mul, hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const F depth = Sub(Mul(read(in.numbers[0], i), number(0.5f)), hn::Abs(load(in.local.y + i)));
        store(softEdgeWeight(depth, read(in.numbers[1], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighSlab);

namespace {

struct Slab {
    float thickness, softEdge;
};

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighSlab)(in, weight); }

constexpr float drawnHalf = 6;  // metres of its endless planes

ZoneLines outline(const std::vector<double>& n, bool core) {
    return boxLines({drawnHalf, std::max(0.0, n[0] / 2 - (core ? n[1] : 0)), drawnHalf});
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) { return {{"thickness", {0, n[0] / 2, 0}, {0, 1, 0}, "thickness", -1, 2}}; }

}  // namespace

const ZoneKind slabZone = common(makes(DescribeZone<Slab>("slab", "Slab", "Acts between two parallel planes")
                                           .found("plane linear gradient falloff sweep")
                                           .length("thickness", &Slab::thickness, 3, {0.1, 20}, "From plane to plane, along its own Y")
                                           .hard(0, 1e6)
                                           .length("softEdge", &Slab::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                           .hard(0, 1e6)
                                           .kind(),
                                       weigh, outline, handles));

}  // namespace gswarm
#endif
