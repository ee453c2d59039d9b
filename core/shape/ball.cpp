// Ball by latitude and longitude.
#include <algorithm>
#include <cmath>

#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Ball {
    float radius;
    int sides, rings;
};

Mesh make(const Ball& ball, int detail, const ShapeSource&) {
    const int sides = std::max(6, ball.sides >> detail), rings = std::max(4, ball.rings >> detail);
    constexpr double pi = 3.14159265358979323846;
    Mesh mesh;
    for (int r = 0; r <= rings; ++r)
        for (int s = 0; s <= sides; ++s) {
            const double down = pi * r / rings, around = 2 * pi * (s % sides) / sides;
            const double ringRadius = r == 0 || r == rings ? 0 : std::sin(down);
            const glm::vec3 normal(ringRadius * std::sin(around), std::cos(down), ringRadius * std::cos(around));
            mesh.positions.push_back(normal * ball.radius);
            mesh.normals.push_back(normal);
            mesh.uv.emplace_back(static_cast<float>(s) / sides, 1 - static_cast<float>(r) / rings);
        }
    const auto width = static_cast<std::uint32_t>(sides + 1);
    for (std::uint32_t r = 0; r < static_cast<std::uint32_t>(rings); ++r)
        for (std::uint32_t s = 0; s + 1 < width; ++s) {
            const std::uint32_t a = r * width + s;
            if (r > 0) mesh.triangles.insert(mesh.triangles.end(), {a, a + width + 1, a + 1});
            if (r + 1 < static_cast<std::uint32_t>(rings)) mesh.triangles.insert(mesh.triangles.end(), {a, a + width, a + width + 1});
        }
    return mesh;
}

}  // namespace

const ShapeKind ballShape = makes(DescribeShape<Ball>("ball", "Ball", "A ball of rings and sides")
                                      .length("radius", &Ball::radius, 0.5, {0.05, 4}, "From the middle to the surface")
                                      .hard(1e-5, 1e5)
                                      .whole("sides", &Ball::sides, 32, {6, 512}, "Faces around")
                                      .whole("rings", &Ball::rings, 16, {4, 256}, "Faces from pole to pole"),
                                  make);

}  // namespace gswarm
