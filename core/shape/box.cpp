// Box with rounded edges.
#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Box {
    glm::vec3 size;
    float rounding;
    int steps;
};

/// Distances from the middle of a side at which the face has lines: equal angles around the rounded edges.
std::vector<float> lines(float half, float rounding, int steps) {
    std::vector<float> at;
    for (int k = -steps; k <= 0; ++k) {
        const float outward = k == -steps ? 1.0f : std::tan(static_cast<float>(-k) / steps * 0.785398163f);
        at.push_back(-(half - rounding) - rounding * outward);
    }
    if (half - rounding > 0) at.push_back(half - rounding);
    for (int k = 1; k <= steps; ++k) at.push_back(-at[static_cast<std::size_t>(steps - k)]);
    return at;
}

Mesh make(const Box& box, int detail) {
    const glm::vec3 half = box.size * 0.5f;
    const float rounding = detail < 2 ? std::min({box.rounding, half.x, half.y, half.z}) : 0;
    const int steps = rounding > 0 ? std::max(1, box.steps >> detail) : 0;
    const glm::vec3 inner = half - rounding;
    Mesh mesh;
    for (int axis = 0; axis < 3; ++axis)
        for (const float side : {1.0f, -1.0f}) {
            const int u = (axis + 1) % 3, v = (axis + 2) % 3;
            const auto across = steps ? lines(half[u], rounding, steps) : std::vector<float>{-half[u], half[u]};
            const auto up = steps ? lines(half[v], rounding, steps) : std::vector<float>{-half[v], half[v]};
            const auto first = static_cast<std::uint32_t>(mesh.positions.size());
            for (const float b : up)
                for (const float a : across) {
                    glm::vec3 p{0};
                    p[axis] = half[axis] * side;
                    p[u] = a * side;
                    p[v] = b;
                    const glm::vec3 core = glm::clamp(p, -inner, inner);
                    glm::vec3 normal{0};
                    normal[axis] = side;
                    if (rounding > 0) normal = glm::normalize(p - core);
                    addVertex(mesh, rounding > 0 ? core + normal * rounding : p, normal, {a / box.size[u] + 0.5f, b / box.size[v] + 0.5f});
                }
            addGridFaces(mesh, first, static_cast<int>(across.size()) - 1, static_cast<int>(up.size()) - 1);
        }
    return mesh;
}

}  // namespace

const ShapeKind boxShape =
    makes(DescribeShape<Box>("box", "Box", "A block with sharp or rounded edges")
              .found("cube block brick cuboid tile")
              .length("size", &Box::size, {1, 1, 1}, {0.05, 4}, "Width, height and depth")
              .hard(1e-5, 1e5)
              .length("rounding", &Box::rounding, 0.05, {0, 0.5}, "Radius of the edges, at most half the shortest side")
              .hard(0, 1e5)
              .whole("steps", &Box::steps, 4, {1, 32}, "Facets around a rounded edge, per half corner"),
          make);

}  // namespace gswarm
