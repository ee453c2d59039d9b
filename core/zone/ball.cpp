// Zone in the form of a ball.
#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/ball.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighBall(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    for (int i = 0; i < count; i += lanes()) {
        const Vector p{load(local.x + i), load(local.y + i), load(local.z + i)};
        const F depth = hn::Sub(read(numbers[0], i), hn::Sqrt(dot(p, p)));
        store(softEdgeWeight(depth, read(numbers[1], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighBall);

namespace {

struct Ball {
    float radius, softEdge;
};

glm::vec3 halfSize(const std::vector<double>& n) { return glm::vec3(n[0]); }

void weigh(const LaneNumber* numbers, const Columns3& local, int count, float* weight) {
    HWY_DYNAMIC_DISPATCH(weighBall)(numbers, local, count, weight);
}

}  // namespace

const ZoneKind ballZone = makes(DescribeZone<Ball>("ball", "Ball", "Acts inside a ball")
                                    .length("radius", &Ball::radius, 3, {0.1, 20}, "From the middle to where it ends")
                                    .hard(0, 1e6)
                                    .length("softEdge", &Ball::softEdge, 2, {0, 10}, "Over this width it fades, measured inward")
                                    .hard(0, 1e6)
                                    .kind(),
                                weigh, halfSize);

}  // namespace gswarm
#endif
