#include "core/physics/obstacle.h"

#include <BulletCollision/CollisionShapes/btBvhTriangleMeshShape.h>
#include <BulletCollision/CollisionShapes/btTriangleIndexVertexArray.h>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <vector>

namespace gswarm {

struct ObstacleMesh::Triangles {
    std::vector<glm::vec3> positions;
    std::vector<int> corners;
    btTriangleIndexVertexArray array;
};

ObstacleMesh::ObstacleMesh(const Mesh& mesh) : triangles_(std::make_unique<Triangles>()) {
    triangles_->positions = mesh.positions;
    triangles_->corners.assign(mesh.triangles.begin(), mesh.triangles.end());
    btIndexedMesh indexed;
    indexed.m_numTriangles = static_cast<int>(mesh.triangleCount());
    indexed.m_triangleIndexBase = reinterpret_cast<const unsigned char*>(triangles_->corners.data());
    indexed.m_triangleIndexStride = 3 * sizeof(int);
    indexed.m_numVertices = static_cast<int>(triangles_->positions.size());
    indexed.m_vertexBase = reinterpret_cast<const unsigned char*>(triangles_->positions.data());
    indexed.m_vertexStride = sizeof(glm::vec3);
    triangles_->array.addIndexedMesh(indexed);
    shape_ = std::make_unique<btBvhTriangleMeshShape>(&triangles_->array, true);
}

ObstacleMesh::ObstacleMesh(ObstacleMesh&&) noexcept = default;
ObstacleMesh::~ObstacleMesh() = default;

std::size_t ObstacleMesh::bytes() const {
    return sizeof *this + triangles_->positions.size() * sizeof(glm::vec3) + triangles_->corners.size() * (sizeof(int) + 16);
}

Obstacle::Obstacle(std::shared_ptr<const ObstacleMesh> of, const glm::mat4& stand) : mesh(std::move(of)), place(stand[3]) {
    glm::mat3 axes(stand);
    for (int axis = 0; axis < 3; ++axis) {
        scale[axis] = std::max(glm::length(axes[axis]), 1e-9f);
        axes[axis] /= scale[axis];
    }
    if (glm::determinant(axes) < 0) scale.x = -scale.x, axes[0] = -axes[0];
    turn = glm::normalize(glm::quat_cast(axes));
    before = place, turnBefore = turn;
}

}  // namespace gswarm
