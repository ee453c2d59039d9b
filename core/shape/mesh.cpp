#include "core/shape/mesh.h"

#include <glm/common.hpp>

namespace gswarm {

Bounds boundsOf(const Mesh& mesh) {
    Bounds bounds;
    for (const auto& p : mesh.positions) {
        bounds.low = glm::min(bounds.low, p);
        bounds.high = glm::max(bounds.high, p);
    }
    return bounds;
}

void addGridTriangles(Mesh& mesh, std::uint32_t first, int columns, int rows) {
    const auto width = static_cast<std::uint32_t>(columns + 1);
    for (std::uint32_t r = 0; r < static_cast<std::uint32_t>(rows); ++r)
        for (std::uint32_t c = 0; c < static_cast<std::uint32_t>(columns); ++c) {
            const std::uint32_t a = first + r * width + c;
            mesh.triangles.insert(mesh.triangles.end(), {a, a + 1, a + width + 1, a, a + width + 1, a + width});
        }
}

}  // namespace gswarm
