// Circle in XZ, or an arc of it.
#include "core/base/precise.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Circle {
    float radius, start, end;  // radians
    float thickness;
    int steps, sides;
};

Curve make(const Circle& circle, int steps) {
    Curve curve;
    curve.closed = std::abs(std::abs(circle.end - circle.start) - 6.2831853f) < 1e-5f;
    for (int k = 0; k <= steps - curve.closed; ++k) {
        const auto turn = precise::sineCosine(circle.start + (double(circle.end) - circle.start) * k / steps);
        curve.points.emplace_back(circle.radius * turn.sine, 0, circle.radius * turn.cosine);
    }
    return curve;
}

}  // namespace

const ShapeKind circleShape = makesCurve(DescribeShape<Circle>("circle", "Circle", "A circle, or an arc of it")
                                             .found("arc round curve loop")
                                             .length("radius", &Circle::radius, 2, {0.1, 10}, "From the middle")
                                             .hard(1e-5, 1e5)
                                             .angle("start", &Circle::start, 0, {-360, 360}, "Where the arc begins, from +Z toward +X")
                                             .angle("end", &Circle::end, 360, {-360, 360}, "Where it ends; a whole turn closes it"),
                                         make);

}  // namespace gswarm
