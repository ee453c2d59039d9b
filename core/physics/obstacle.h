#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <memory>

#include "core/shape/mesh.h"

class btBvhTriangleMeshShape;

namespace gswarm {

/// A mesh that bodies meet with every triangle, from both sides; it may have holes. Made once for all that show it.
class ObstacleMesh {
  public:
    /// Takes a copy of the triangles. The mesh has some.
    explicit ObstacleMesh(const Mesh& mesh);
    ObstacleMesh(ObstacleMesh&&) noexcept;
    ~ObstacleMesh();
    const btBvhTriangleMeshShape& shape() const { return *shape_; }
    std::size_t bytes() const;

  private:
    struct Triangles;
    std::unique_ptr<Triangles> triangles_;
    std::unique_ptr<btBvhTriangleMeshShape> shape_;
};

/// An obstacle on its way from where it stood at the frame before.
struct Obstacle {
    std::shared_ptr<const ObstacleMesh> mesh;
    glm::vec3 place{0}, before{0};
    glm::quat turn{1, 0, 0, 0}, turnBefore{1, 0, 0, 0};
    int rules = 0;       ///< by which of the rules it is rough and bounces
    glm::vec3 scale{1};  ///< along the mesh's own axes; one below 0 mirrors

    /// Where a matrix puts it, at rest. What it skews is left upright.
    Obstacle(std::shared_ptr<const ObstacleMesh> of, const glm::mat4& stand);
};

}  // namespace gswarm
