// Zone in the form of a box.
#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/box.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighBox(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    const F half = number(0.5f);
    const auto depthAlong = [&](const float* place, const LaneNumber& size, int i) {
        return hn::Sub(hn::Mul(read(size, i), half), hn::Abs(load(place + i)));
    };
    for (int i = 0; i < count; i += lanes()) {
        const F depth =
            hn::Min(depthAlong(local.x, numbers[0], i), hn::Min(depthAlong(local.y, numbers[1], i), depthAlong(local.z, numbers[2], i)));
        store(softEdgeWeight(depth, read(numbers[3], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighBox);

namespace {

struct Box {
    glm::vec3 size;
    float softEdge;
};

glm::vec3 halfSize(const std::vector<double>& n) { return glm::vec3(n[0], n[1], n[2]) * 0.5f; }

void weigh(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    HWY_DYNAMIC_DISPATCH(weighBox)(numbers, local, count, weight);
}

}  // namespace

const ZoneKind boxZone = makes(DescribeZone<Box>("box", "Box", "Acts inside a box")
                                   .length("size", &Box::size, {4, 4, 4}, {0.1, 40}, "Outer width, height and depth")
                                   .hard(0, 1e6)
                                   .length("softEdge", &Box::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                   .hard(0, 1e6)
                                   .kind(),
                               weigh, halfSize);

}  // namespace gswarm
#endif
