// Zone in the form of a ring that lies flat.
#include <algorithm>

#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/ring.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighRing(const ZoneInput& in, float* weight) {
    using hn::Add, hn::Mul, hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const Vector p{load(in.local.x + i), load(in.local.y + i), load(in.local.z + i)};
        const F off = Sub(hn::Sqrt(Add(Mul(p.x, p.x), Mul(p.z, p.z))), read(in.numbers[0], i));
        const F depth = Sub(Mul(read(in.numbers[1], i), number(0.5f)), hn::Sqrt(Add(Mul(off, off), Mul(p.y, p.y))));
        store(softEdgeWeight(depth, read(in.numbers[2], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighRing);

namespace {

struct Ring {
    float radius, thickness, softEdge;
};

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighRing)(in, weight); }

ZoneLines outline(const std::vector<double>& n, bool core) {
    const float radius = static_cast<float>(n[0]), half = static_cast<float>(std::max(0.0, n[1] / 2 - (core ? n[2] : 0)));
    ZoneLines lines{circleAbout(1, radius + half), circleAbout(1, std::max(0.0f, radius - half))};
    for (int k = 0; k < 4; ++k) {
        std::vector<glm::vec3> around = circleAbout(k % 2 == 0 ? 2 : 0, half);
        for (glm::vec3& p : around) p[k % 2 == 0 ? 0 : 2] += k < 2 ? radius : -radius;
        lines.push_back(std::move(around));
    }
    return lines;
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"radius", {n[0], 0, 0}, {1, 0, 0}, "radius"}, {"thickness", {0, n[1] / 2, n[0]}, {0, 1, 0}, "thickness", -1, 2}};
}

}  // namespace

const ZoneKind ringZone = makes(DescribeZone<Ring>("ring", "Ring", "Acts inside a ring that lies flat")
                                    .found("torus falloff mask")
                                    .length("radius", &Ring::radius, 3, {0.1, 20}, "From its place to the middle of the ring")
                                    .hard(0, 1e6)
                                    .length("thickness", &Ring::thickness, 1.5, {0.1, 10}, "Of the ring itself, all across")
                                    .hard(0, 1e6)
                                    .length("softEdge", &Ring::softEdge, 0.5, {0, 10}, "Over this width it fades, measured inward")
                                    .hard(0, 1e6)
                                    .kind(),
                                weigh, outline, handles);

}  // namespace gswarm
#endif
