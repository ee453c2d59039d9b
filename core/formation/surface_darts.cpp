#include "core/formation/surface_darts.h"

#include <algorithm>
#include <cmath>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

SurfaceDarts::SurfaceDarts(const Mesh& mesh, std::uint32_t seed) : seed_(seed) {
    sums_.reserve(mesh.triangleCount());
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const glm::dvec3 a(mesh.positions[mesh.triangles[t]]), b(mesh.positions[mesh.triangles[t + 1]]),
            c(mesh.positions[mesh.triangles[t + 2]]);
        const glm::dvec3 n = glm::cross(b - a, c - a);
        sums_.push_back(sum += std::sqrt(glm::dot(n, n)) / 2);
    }
    if (!(sum > 0)) throw Error("The mesh has no area to stand on; choose another shape.");
    guide_.resize(std::min<std::size_t>(mesh.triangleCount(), 1u << 20));
    std::size_t at = 0;
    for (std::size_t g = 0; g < guide_.size(); ++g) {
        while (at + 1 < sums_.size() && sums_[at] <= sum * static_cast<double>(g) / static_cast<double>(guide_.size())) ++at;
        guide_[g] = static_cast<std::uint32_t>(at);
    }
}

SurfacePoint SurfaceDarts::dart(std::uint64_t number) const {
    // Two chances of 24 bits: one alone could not tell a million triangles evenly apart.
    const double share = (double(chance(seed_, number, 0)) + double(chance(seed_, number, 1)) / 16777216.0);
    const double wanted = share * sums_.back();
    std::size_t t = guide_[std::min(guide_.size() - 1, static_cast<std::size_t>(share * static_cast<double>(guide_.size())))];
    while (t + 1 < sums_.size() && sums_[t] <= wanted) ++t;
    float b = chance(seed_, number, 2), c = chance(seed_, number, 3);
    if (b + c > 1) b = 1 - b, c = 1 - c;
    return {static_cast<std::uint32_t>(t), b, c, number};
}

const Mesh& meshOf(const std::shared_ptr<const ShapeMeshes>& shape) {
    if (shape->mesh().triangles.empty())
        throw Error("The shape it stands on has no surface; choose another one, or give the curve a thickness.");
    return shape->mesh();
}

CarriedMesh carriedMesh(ObjectId shape, const FormationSource& source) {
    if (!shape) throw Error("Choose the shape to stand on.");
    CarriedMesh carried{source.restShape(shape), source.shape(shape)};
    meshOf(carried.now);
    if (carried.rest->mesh().triangles != carried.now->mesh().triangles) carried.rest = carried.now;
    return carried;
}

}  // namespace gswarm
