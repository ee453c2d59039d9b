#pragma once
#include <map>
#include <memory>
#include <utility>

#include "core/shape/shape_kind.h"

namespace gswarm::live {

/// A mesh in the memory of the graphics driver: attribute 0 is the place, 1 the normal, 6 the mesh's own colour; 2 to 5 are those of
/// each instance and not yet bound.
struct GpuMesh {
    unsigned vertexArray = 0, vertices = 0, indices = 0;
    int indexCount = 0;
    std::weak_ptr<const ShapeMeshes> meshes;
};

/// Meshes as the driver has them. Belongs to the context that is current when it is made.
class GpuMeshes {
  public:
    GpuMeshes() = default;
    ~GpuMeshes();
    GpuMeshes(const GpuMeshes&) = delete;
    GpuMeshes& operator=(const GpuMeshes&) = delete;

    const GpuMesh& of(const std::shared_ptr<const ShapeMeshes>& meshes, int level);
    /// Lets go of those that nobody has any more.
    void forgetUnused();

  private:
    std::map<std::pair<const ShapeMeshes*, int>, GpuMesh> kept_;
};

}  // namespace gswarm::live
