// Curve through given points, with straight or smooth pieces.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class Bend { smooth, straight };

struct Path {
    std::vector<glm::vec3> points;
    Bend bend;
    bool closed;
    float thickness;
    int steps, sides;
};

/// Between p1 and p2 without loops or overshoot at uneven distances: centripetal Catmull–Rom (Barry and Goldman 1988).
glm::vec3 smoothAt(const glm::vec3& p0, const glm::vec3& p1, const glm::vec3& p2, const glm::vec3& p3, float share) {
    const auto step = [](const glm::vec3& a, const glm::vec3& b) { return std::max(std::sqrt(glm::length(b - a)), 1e-4f); };
    const float t1 = step(p0, p1), t2 = t1 + step(p1, p2), t3 = t2 + step(p2, p3);
    const float t = t1 + (t2 - t1) * share;
    const auto mixed = [](const glm::vec3& a, const glm::vec3& b, float from, float to, float at) {
        return a * ((to - at) / (to - from)) + b * ((at - from) / (to - from));
    };
    const glm::vec3 a1 = mixed(p0, p1, 0, t1, t), a2 = mixed(p1, p2, t1, t2, t), a3 = mixed(p2, p3, t2, t3, t);
    return mixed(mixed(a1, a2, 0, t2, t), mixed(a2, a3, t1, t3, t), t1, t2, t);
}

Curve make(const Path& path, int steps) {
    std::vector<glm::vec3> points;
    for (const auto& p : path.points)
        if (points.empty() || p != points.back()) points.push_back(p);
    const auto n = static_cast<int>(points.size());
    Curve curve;
    curve.closed = path.closed && n > 2;
    if (n < 2 || path.bend == Bend::straight) {
        curve.points = std::move(points);
        return curve;
    }
    const int pieces = curve.closed ? n : n - 1, each = std::max(1, steps / pieces);
    const auto at = [&](int i) {
        if (curve.closed) return points[static_cast<std::size_t>((i + n) % n)];
        if (i < 0) return points[0] * 2.0f - points[1];
        if (i >= n) return points[static_cast<std::size_t>(n) - 1] * 2.0f - points[static_cast<std::size_t>(n) - 2];
        return points[static_cast<std::size_t>(i)];
    };
    for (int piece = 0; piece < pieces; ++piece)
        for (int k = 0; k < each; ++k)
            curve.points.push_back(k == 0 ? at(piece)
                                          : smoothAt(at(piece - 1), at(piece), at(piece + 1), at(piece + 2),
                                                     static_cast<float>(k) / static_cast<float>(each)));
    if (!curve.closed) curve.points.push_back(points.back());
    return curve;
}

}  // namespace

const ShapeKind pathShape =
    makesCurve(DescribeShape<Path>("path", "Path", "A curve through points that you place")
                   .found("curve bezier spline stroke drawing wire")
                   .points("points", &Path::points, {{-2, 0, 0}, {-0.7, 0, 0.8}, {0.7, 0, -0.8}, {2, 0, 0}}, "The points it goes through")
                   .choice("bend", &Path::bend, {{"smooth", "Smooth"}, {"straight", "Straight"}}, "How it goes from point to point")
                   .toggle("closed", &Path::closed, false, "Goes on from the last point to the first"),
               make);

}  // namespace gswarm
