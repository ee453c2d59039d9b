#pragma once
#include "core/formation/formation_kind.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// Throws darts at a mesh, uniform by area. A dart is known by its number: the same mesh, seed and number always give
/// the same point.
class SurfaceDarts {
  public:
    /// Throws Error if the mesh has no area.
    SurfaceDarts(const Mesh& mesh, std::uint32_t seed);
    double area() const { return sums_.back(); }
    SurfacePoint dart(std::uint64_t number) const;

  private:
    std::vector<double> sums_;          ///< of the areas up to and with each triangle
    std::vector<std::uint32_t> guide_;  ///< first triangle to look at for each equal share of the area
    std::uint32_t seed_;
};

/// The mesh of a formation's shape; throws Error if none is chosen or it has no faces.
const Mesh& meshOf(const std::shared_ptr<const ShapeMeshes>& shape);

/// Points spread on the rest mesh are carried along by the mesh of this frame if both have the same triangles.
struct CarriedMesh {
    std::shared_ptr<const ShapeMeshes> rest, now;
};
CarriedMesh carriedMesh(ObjectId shape, const FormationSource& source);

}  // namespace gswarm
