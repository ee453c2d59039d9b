#include "core/picture/joined_leaves.h"

#include <map>
#include <tuple>

#include "core/base/parallel.h"
#include "core/picture/moments.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

/// What Embree takes for a triangle and its corners, and for an instance, with what is kept of it here: measured.
constexpr double bytesOfTriangle = 50, bytesOfInstance = 450;

/// The same instances of the same mesh, whatever repeats them.
using Leaf = std::tuple<const Result*, const std::vector<std::uint32_t>*, const ShapeMeshes*>;
Leaf leafOf(const Surface& surface) { return {surface.swarm.get(), surface.rows.get(), surface.meshes.get()}; }

bool isInner(const Surface& surface) { return surface.swarm && surface.path != 0; }

/// Whether it is the very same at all moments, but for where it stands.
bool staysWhole(std::span<const DrawList> shutter, std::size_t number) {
    const Surface& first = shutter.front().surfaces[number];
    for (const DrawList& list : shutter.subspan(1)) {
        if (number >= list.surfaces.size()) return false;
        const Surface& other = list.surfaces[number];
        if (other.swarm != first.swarm || other.meshes != first.meshes || other.path != first.path || other.copy != first.copy)
            return false;
    }
    return true;
}

}  // namespace

std::vector<bool> joinedSurfaces(std::span<const DrawList> shutter) {
    const auto& surfaces = shutter.front().surfaces;
    std::vector<bool> joined(surfaces.size(), false);
    std::map<Leaf, double> uses;
    for (std::size_t s = 0; s < surfaces.size(); ++s) {
        joined[s] = isInner(surfaces[s]) && staysWhole(shutter, s);
        if (joined[s]) ++uses[leafOf(surfaces[s])];
    }
    for (std::size_t s = 0; s < surfaces.size(); ++s) {
        if (!joined[s]) continue;
        const auto count = static_cast<double>(surfaces[s].instances().size()), repeated = uses[leafOf(surfaces[s])];
        const double triangles = count * static_cast<double>(surfaces[s].meshes->mesh().triangleCount());
        joined[s] = triangles <= static_cast<double>(mostTriangles) &&
                    triangles * bytesOfTriangle + repeated * bytesOfInstance < count * repeated * bytesOfInstance;
    }
    return joined;
}

Mesh joinedLeaves(const Surface& surface, const Progress& progress) {
    const Mesh& mesh = surface.meshes->mesh();
    const auto rows = surface.instances();
    Mesh out;
    out.positions.resize(rows.size() * mesh.positions.size());
    out.triangles.resize(rows.size() * mesh.triangles.size());
    forRanges(rows.size(), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end && !progress.cancelled(); ++k) {
            const glm::mat4 stand = matrixOf(*surface.swarm, rows[k]);
            const std::size_t vertex = k * mesh.positions.size(), index = k * mesh.triangles.size();
            for (std::size_t v = 0; v < mesh.positions.size(); ++v)
                out.positions[vertex + v] = glm::vec3(stand * glm::vec4(mesh.positions[v], 1));
            for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
                out.triangles[index + t] = static_cast<std::uint32_t>(vertex) + mesh.triangles[t];
        }
    });
    progress.check();
    return out;
}

}  // namespace gswarm
