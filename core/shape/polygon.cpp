#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/shape/monotone_fill.h"
#include "core/shape/outline.h"
#include "core/shape/read_mesh.h"

namespace gswarm {

void addPolygon(Mesh& mesh, const std::vector<std::uint32_t>& corners) {
    if (corners.size() < 3) return;
    if (corners.size() == 3) return addFace(mesh, {corners[0], corners[1], corners[2]});
    // Flattened along its own normal; a concave polygon is filled by the tessellator.
    glm::vec3 sum(0);
    for (std::size_t i = 0; i < corners.size(); ++i)
        sum += glm::cross(mesh.positions[corners[i]] - mesh.positions[corners[0]],
                          mesh.positions[corners[(i + 1) % corners.size()]] - mesh.positions[corners[0]]);
    const int axis = std::abs(sum.x) > std::abs(sum.y) && std::abs(sum.x) > std::abs(sum.z) ? 0 : std::abs(sum.y) > std::abs(sum.z) ? 1 : 2;
    FlatContours flat(1);
    for (const std::uint32_t c : corners) {
        const glm::vec3& p = mesh.positions[c];
        const glm::dvec2 q(p[(axis + 1) % 3], p[(axis + 2) % 3]);
        if (!std::isfinite(q.x) || !std::isfinite(q.y)) return;
        flat[0].push_back(sum[axis] < 0 ? glm::dvec2(-q.x, q.y) : q);
    }
    bool convex = true;
    for (std::size_t i = 0; i < flat[0].size(); ++i) {
        const auto &a = flat[0][i], &b = flat[0][(i + 1) % flat[0].size()], &c = flat[0][(i + 2) % flat[0].size()];
        // One that winds around more than once turns left everywhere too, but not as seen from its first corner.
        const auto& first = flat[0][0];
        convex = convex && (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) >= 0 &&
                 (b.x - first.x) * (c.y - first.y) - (b.y - first.y) * (c.x - first.x) >= 0;
    }
    const std::uint32_t face = mesh.faceCount();
    const auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
        mesh.triangles.insert(mesh.triangles.end(), {corners[a], corners[b], corners[c]});
        mesh.faces.push_back(face);
    };
    if (convex) {
        for (std::uint32_t i = 1; i + 1 < corners.size(); ++i) add(0, i, i + 1);
        return;
    }
    // The tessellator also fills what crosses itself, but takes time with the square of the corners.
    constexpr std::size_t mostForTessellator = 4096;
    auto triangles = corners.size() > mostForTessellator ? monotoneFill(flat[0]) : fillPolygons(flat);
    if (triangles.empty() && corners.size() > mostForTessellator)
        throw Error("has a face of " + std::to_string(corners.size()) + " corners that crosses or touches itself; split it");
    for (std::size_t t = 0; t < triangles.size(); t += 3) add(triangles[t], triangles[t + 1], triangles[t + 2]);
}

}  // namespace gswarm
