// Zone in the form of a box.
#include "core/zone/zone_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/zone/box.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/zone/soft_edge-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void weighBox(const ZoneInput& in, float* weight) {
    using hn::Min, hn::Mul, hn::Sub;
    for (int i = 0; i < in.count; i += lanes()) {
        const Vector p{load(in.local.x + i), load(in.local.y + i), load(in.local.z + i)};
        const F half = number(0.5f);
        const auto along = [&](F place, int n) { return Sub(Mul(read(in.numbers[n], i), half), hn::Abs(place)); };
        const F depth = Min(along(p.x, 0), Min(along(p.y, 1), along(p.z, 2)));
        store(softEdgeWeight(depth, read(in.numbers[3], i)), weight + i);
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

void weigh(const ZoneInput& in, float* weight) { HWY_DYNAMIC_DISPATCH(weighBox)(in, weight); }

ZoneLines outline(const std::vector<double>& n, bool core) {
    return boxLines(glm::max(glm::vec3(n[0], n[1], n[2]) * 0.5f - (core ? static_cast<float>(n[3]) : 0), glm::vec3(0)));
}

std::vector<ZoneHandle> handles(const std::vector<double>& n) {
    return {{"x", {n[0] / 2, 0, 0}, {1, 0, 0}, "size", 0, 2},
            {"y", {0, n[1] / 2, 0}, {0, 1, 0}, "size", 1, 2},
            {"z", {0, 0, n[2] / 2}, {0, 0, 1}, "size", 2, 2}};
}

}  // namespace

const ZoneKind boxZone = common(makes(DescribeZone<Box>("box", "Box", "Acts inside a box")
                                          .found("cube falloff selection mask")
                                          .length("size", &Box::size, {4, 4, 4}, {0.1, 40}, "Outer width, height and depth")
                                          .hard(0, 1e6)
                                          .length("softEdge", &Box::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                                          .hard(0, 1e6)
                                          .kind(),
                                      weigh, outline, handles));

}  // namespace gswarm
#endif
