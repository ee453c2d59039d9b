#pragma once
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/shape/shape_kind.h"

namespace gswarm::live {

/// A mesh in the memory of the graphics driver: attribute 0 is the place, 1 the normal, 6 the mesh's own colour, 8 its UV; 2 to 5, 7,
/// 10 and 11 are those of each instance and not yet bound.
struct GpuMesh {
    unsigned vertexArray = 0, vertices = 0, indices = 0;
    unsigned numbers = 0;              ///< of its vertices, one column behind the other; 0 where it has none
    std::vector<std::string> columns;  ///< what they are called
    int vertexCount = 0, indexCount = 0;
    float reach = 0;  ///< how far from its origin it comes, metres
    std::weak_ptr<const ShapeMeshes> meshes;
    std::optional<bool> solid;  ///< once it was asked for
};

/// Meshes as the driver has them. Belongs to the context that is current when it is made.
class GpuMeshes {
  public:
    GpuMeshes() = default;
    ~GpuMeshes();
    GpuMeshes(const GpuMeshes&) = delete;
    GpuMeshes& operator=(const GpuMeshes&) = delete;

    const GpuMesh& of(const std::shared_ptr<const ShapeMeshes>& meshes, int level);
    /// Closed all around, its faces looking outward. Looked at when it is first asked for, of large meshes never: no for them.
    bool isSolid(const std::shared_ptr<const ShapeMeshes>& meshes, int level);
    /// Lets attribute 9 of the mesh that is bound be a named value of its vertices; 0 where they don't have it.
    static void useNumber(const GpuMesh& mesh, const std::string& value);
    /// Lets go of those that nobody has any more.
    void forgetUnused();

  private:
    std::map<std::pair<const ShapeMeshes*, int>, GpuMesh> kept_;
};

}  // namespace gswarm::live
