#include "core/shape/polygons.h"

#include <algorithm>
#include <numeric>

namespace gswarm {

void Polygons::add(std::span<const std::uint32_t> some, std::span<const glm::vec2> theirUv) {
    corners.insert(corners.end(), some.begin(), some.end());
    uv.insert(uv.end(), theirUv.begin(), theirUv.end());
    start.push_back(static_cast<std::uint32_t>(corners.size()));
}

void Polygons::join() {
    struct Half {
        std::uint64_t key;
        std::uint32_t at, face;
    };
    std::vector<Half> halves;
    halves.reserve(corners.size());
    for (std::uint32_t f = 0; f < count(); ++f)
        for (std::uint32_t at = start[f]; at < start[f + 1]; ++at) {
            const std::uint32_t a = corners[at], b = corners[at + 1 < start[f + 1] ? at + 1 : start[f]];
            halves.push_back({std::uint64_t{std::min(a, b)} << 32 | std::max(a, b), at, f});
        }
    std::sort(halves.begin(), halves.end(), [](const Half& a, const Half& b) { return a.key != b.key ? a.key < b.key : a.at < b.at; });
    sides.clear();
    sideAt.assign(corners.size(), 0);
    for (std::size_t h = 0; h < halves.size(); ++h) {
        const Half& half = halves[h];
        if (h == 0 || half.key != halves[h - 1].key)
            sides.push_back({{static_cast<std::uint32_t>(half.key >> 32), static_cast<std::uint32_t>(half.key)}});
        Side& side = sides.back();
        if (side.faces[0] == noFace)
            side.faces[0] = half.face;
        else if (side.faces[1] == noFace)
            side.faces[1] = half.face;
        else
            side.more = true;
        sideAt[half.at] = static_cast<std::uint32_t>(sides.size() - 1);
    }
}

Polygons polygonsOf(const Mesh& mesh, std::vector<glm::vec3>& places) {
    const Topology topology = topologyOf(mesh);
    places = topology.places;
    Polygons made;
    const auto loops = facePolygons(mesh, topology);
    std::vector<std::uint32_t> firstTriangle(loops.size() + 1, 0);
    for (const std::uint32_t face : mesh.faces) ++firstTriangle[face + 1];
    std::partial_sum(firstTriangle.begin(), firstTriangle.end(), firstTriangle.begin());
    std::vector<glm::vec2> uv;
    for (std::size_t f = 0; f < loops.size(); ++f) {
        if (loops[f].size() < 3) continue;
        uv.clear();
        const std::span vertices(&mesh.triangles[3 * std::size_t{firstTriangle[f]}],
                                 3 * std::size_t{firstTriangle[f + 1] - firstTriangle[f]});
        for (const std::uint32_t corner : loops[f]) {
            const auto vertex =
                std::find_if(vertices.begin(), vertices.end(), [&](std::uint32_t v) { return topology.corner[v] == corner; });
            uv.push_back(vertex == vertices.end() ? glm::vec2(0) : mesh.uv[*vertex]);
        }
        made.add(loops[f], uv);
    }
    made.join();
    return made;
}

}  // namespace gswarm
