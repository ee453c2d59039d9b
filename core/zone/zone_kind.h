#pragma once
#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/scene/describe.h"

namespace gswarm {

/// A weight over space: 1 in its core, 0 from its surface outward, passing between over the soft edge (metres,
/// measured inward). A moving zone in a staggered gesture has other numbers for each instance, so a zone reads its
/// numbers through lanes, in the order of its table.
struct ZoneKind : Kind {
    /// `local` is the place in the zone's own axes (world metres). Fills `weight` for a count that is a multiple of 16.
    std::function<void(const LaneNumber* numbers, const Columns3& local, int count, float* weight)> weigh;
    /// Half the outer size along its axes, for handles and Why?. Numbers as a person typed them at one frame.
    std::function<glm::vec3(const std::vector<double>& numbers)> halfSize;
};

template <class T>
struct DescribeZone : Describe<T, ZoneKind> {
    DescribeZone(std::string id, std::string label, std::string summary)
        : Describe<T, ZoneKind>(Family::zone, std::move(id), std::move(label), std::move(summary)) {}
};

inline ZoneKind makes(ZoneKind kind, void (*weigh)(const LaneNumber*, const Columns3&, int, float*),
                      glm::vec3 (*halfSize)(const std::vector<double>&)) {
    kind.weigh = weigh;
    kind.halfSize = halfSize;
    return kind;
}

extern const ZoneKind ballZone, boxZone, slabZone;

}  // namespace gswarm
