// Zone in the form of a cone: a round base at its own place, a point above.
#include <algorithm>
#include <cmath>

#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/cone.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighCone(const ZoneInput& in, float* weight) {
    using hn::Add, hn::Div, hn::Max, hn::Min, hn::Mul, hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const Vector p{load(in.local.x + i), load(in.local.y + i), load(in.local.z + i)};
        const F radius = read(in.numbers[0], i), height = Max(read(in.numbers[1], i), number(1e-6f));
        const F away = hn::Sqrt(Add(Mul(p.x, p.x), Mul(p.z, p.z)));
        // Across the slanted side: the gap at the same height times the cosine of its slope.
        const F gap = Sub(Mul(radius, Sub(number(1), Div(p.y, height))), away);
        const F slant = Div(height, hn::Sqrt(Add(Mul(radius, radius), Mul(height, height))));
        const F depth = Min(p.y, Mul(gap, slant));
        store(softEdgeWeight(depth, read(in.numbers[2], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighCone);

namespace {

struct Cone {
    float radius, height, softEdge;
};

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighCone)(in, weight); }

ZoneLines outline(const std::vector<double>& n, bool core) {
    // The core is the cone that lies a soft edge inside the base and the side.
    const double inner = core ? n[2] : 0, slant = std::sqrt(n[0] * n[0] + n[1] * n[1]);
    const double top = n[0] > 0 ? n[1] - inner * slant / n[0] : n[1];
    if (!(top > inner) || !(n[1] > 0)) return {};
    const float radius = static_cast<float>(n[0] * (top - inner) / n[1]), base = static_cast<float>(inner);
    ZoneLines lines{circleAbout(1, radius, base)};
    for (const glm::vec3& side : {glm::vec3(1, 0, 0), glm::vec3(0, 0, 1), glm::vec3(-1, 0, 0), glm::vec3(0, 0, -1)})
        lines.push_back({side * radius + glm::vec3(0, base, 0), glm::vec3(0, top, 0)});
    return lines;
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"radius", {n[0], 0, 0}, {1, 0, 0}, "radius"}, {"height", {0, n[1], 0}, {0, 1, 0}, "height"}};
}

}  // namespace

const ZoneKind coneZone = makes(DescribeZone<Cone>("cone", "Cone", "Acts inside a cone that stands on its base")
                                    .found("spot falloff mask")
                                    .length("radius", &Cone::radius, 3, {0.1, 20}, "Of its base")
                                    .hard(0, 1e6)
                                    .length("height", &Cone::height, 5, {0.1, 40}, "From the base to the tip, along its own Y")
                                    .hard(0, 1e6)
                                    .length("softEdge", &Cone::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                    .hard(0, 1e6)
                                    .kind(),
                                weigh, outline, handles);

}  // namespace gswarm
#endif
