// Zone in the form of a round pillar along its own Y.
#include <algorithm>

#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/tube.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighTube(const ZoneInput& in, float* weight) {
    using hn::Add, hn::Min, hn::Mul, hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const Vector p{load(in.local.x + i), load(in.local.y + i), load(in.local.z + i)};
        const F away = hn::Sqrt(Add(Mul(p.x, p.x), Mul(p.z, p.z)));
        const F depth = Min(Sub(read(in.numbers[0], i), away), Sub(Mul(read(in.numbers[1], i), number(0.5f)), hn::Abs(p.y)));
        store(softEdgeWeight(depth, read(in.numbers[2], i)), weight + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighTube);

namespace {

struct Tube {
    float radius, height, softEdge;
};

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighTube)(in, weight); }

ZoneLines outline(const std::vector<double>& n, bool core) {
    const float inner = core ? static_cast<float>(n[2]) : 0;
    const float radius = std::max(0.0f, static_cast<float>(n[0]) - inner), half = std::max(0.0f, static_cast<float>(n[1]) / 2 - inner);
    ZoneLines lines{circleAbout(1, radius, -half), circleAbout(1, radius, half)};
    for (const glm::vec3& side : {glm::vec3(1, 0, 0), glm::vec3(0, 0, 1), glm::vec3(-1, 0, 0), glm::vec3(0, 0, -1)})
        lines.push_back({side * radius - glm::vec3(0, half, 0), side * radius + glm::vec3(0, half, 0)});
    return lines;
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"radius", {n[0], 0, 0}, {1, 0, 0}, "radius"}, {"height", {0, n[1] / 2, 0}, {0, 1, 0}, "height", -1, 2}};
}

}  // namespace

const ZoneKind tubeZone = makes(DescribeZone<Tube>("tube", "Tube", "Acts inside a round pillar")
                                    .found("cylinder falloff mask")
                                    .length("radius", &Tube::radius, 2, {0.1, 20}, "From its middle line to where it ends")
                                    .hard(0, 1e6)
                                    .length("height", &Tube::height, 6, {0.1, 40}, "From end to end, along its own Y")
                                    .hard(0, 1e6)
                                    .length("softEdge", &Tube::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                    .hard(0, 1e6)
                                    .kind(),
                                weigh, outline, handles);

}  // namespace gswarm
#endif
