// Zone in the form of a ball.
#include <algorithm>

#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/ball.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighBall(const ZoneInput& in, float* weight) {
    using hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const Vector p{load(in.local.x + i), load(in.local.y + i), load(in.local.z + i)};
        const F depth = Sub(read(in.numbers[0], i), hn::Sqrt(dot(p, p)));
        store(softEdgeWeight(depth, read(in.numbers[1], i)), weight + i);
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

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighBall)(in, weight); }

ZoneLines outline(const std::vector<double>& n, bool core) {
    const float radius = static_cast<float>(core ? std::max(0.0, n[0] - n[1]) : n[0]);
    return {circleAbout(0, radius), circleAbout(1, radius), circleAbout(2, radius)};
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"radius", {n[0], 0, 0}, {1, 0, 0}, "radius"}, {"softEdge", {0, 0, std::max(0.0, n[0] - n[1])}, {0, 0, 1}, "softEdge", -1, -1}};
}

}  // namespace

const ZoneKind ballZone = common(makes(DescribeZone<Ball>("ball", "Ball", "Acts inside a ball")
                                           .found("sphere falloff selection mask radial")
                                           .length("radius", &Ball::radius, 3, {0.1, 20}, "From the middle to where it ends")
                                           .hard(0, 1e6)
                                           .length("softEdge", &Ball::softEdge, 2, {0, 10}, "Over this width it fades, measured inward")
                                           .hard(0, 1e6)
                                           .kind(),
                                       weigh, outline, handles));

}  // namespace gswarm
#endif
