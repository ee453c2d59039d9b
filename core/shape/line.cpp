// Straight line from a place to another.
#include <glm/common.hpp>

#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Line {
    glm::vec3 from, to;
    float thickness;
    int steps, sides;
};

Curve make(const Line& line, int steps) {
    Curve curve;
    for (int k = 0; k <= steps; ++k)
        curve.points.push_back(glm::mix(line.from, line.to, static_cast<float>(k) / static_cast<float>(steps)));
    return curve;
}

}  // namespace

const ShapeKind lineShape = makesCurve(DescribeShape<Line>("line", "Line", "A straight line")
                                           .found("straight edge string curve")
                                           .length("from", &Line::from, {-2, 0, 0}, {-10, 10}, "Where it begins")
                                           .length("to", &Line::to, {2, 0, 0}, {-10, 10}, "Where it ends"),
                                       make);

}  // namespace gswarm
