#include "core/zone/zone_kind.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/zone_kind.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighDepthLanes(const float* depth, const LaneNumber& softEdge, int count, float* weight) {
    for (int i = 0; i < count; i += lanes()) store(softEdgeWeight(load(depth + i), read(softEdge, i)), weight + i);
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(weighDepthLanes);

void weighDepth(const float* depth, const LaneNumber& softEdge, int count, float* weight) {
    HWY_DYNAMIC_DISPATCH(weighDepthLanes)(depth, softEdge, count, weight);
}

int ZoneKind::numberCount() const {
    int count = 0;
    for (const Parameter& p : parameters)
        if (p.numeric()) count += p.components;
    return count;
}

std::vector<glm::vec3> circleAbout(int axis, float radius, float along) {
    std::vector<glm::vec3> points;
    for (int k = 0; k <= 64; ++k) {
        const float angle = static_cast<float>(k) / 64 * 6.28318530718f;
        glm::vec3 p(0);
        p[axis] = along;
        p[(axis + 1) % 3] = radius * std::cos(angle);
        p[(axis + 2) % 3] = radius * std::sin(angle);
        points.push_back(p);
    }
    return points;
}

ZoneLines boxLines(const glm::vec3& half) {
    ZoneLines lines;
    const auto corner = [&](int x, int y, int z) { return half * glm::vec3(x, y, z); };
    for (const int y : {-1, 1})
        lines.push_back({corner(-1, y, -1), corner(1, y, -1), corner(1, y, 1), corner(-1, y, 1), corner(-1, y, -1)});
    for (const int x : {-1, 1})
        for (const int z : {-1, 1}) lines.push_back({corner(x, -1, z), corner(x, 1, z)});
    return lines;
}

}  // namespace gswarm
#endif
