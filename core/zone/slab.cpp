// Zone between two endless parallel planes, across its own Y.
#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/slab.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighSlab(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    const F half = number(0.5f);
    for (int i = 0; i < count; i += lanes()) {
        const F depth = hn::Sub(hn::Mul(read(numbers[0], i), half), hn::Abs(load(local.y + i)));
        store(softEdgeWeight(depth, read(numbers[1], i)), weight + i);
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

glm::vec3 halfSize(const std::vector<double>& n) { return glm::vec3(6, n[0] * 0.5, 6); }

void weigh(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    HWY_DYNAMIC_DISPATCH(weighSlab)(numbers, local, count, weight);
}

}  // namespace

const ZoneKind slabZone = makes(DescribeZone<Slab>("slab", "Slab", "Acts between two parallel planes")
                                    .length("thickness", &Slab::thickness, 3, {0.1, 20}, "From plane to plane, along its own Y")
                                    .hard(0, 1e6)
                                    .length("softEdge", &Slab::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                    .hard(0, 1e6)
                                    .kind(),
                                weigh, halfSize);

}  // namespace gswarm
#endif
