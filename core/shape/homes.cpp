#include "core/shape/homes.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm {

std::size_t Homes::bytes() const {
    return sizeof *this + position.size() * 12 + rotation.size() * 16 + size.size() * 4 + id.size() * 8 + element.size() * 4 +
           extras.size() * position.size() * 4;
}

void Homes::add(const glm::vec3& place, const glm::quat& turn, std::uint64_t number) {
    position.push_back(place);
    rotation.push_back(turn);
    id.push_back(number);
}

glm::quat standingOn(const glm::vec3& normal, const glm::vec3& tangent) {
    glm::vec3 z = tangent - normal * glm::dot(normal, tangent);
    if (glm::dot(z, z) < 1e-12f) {
        const glm::vec3 axis = std::abs(normal.x) < 0.9f ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
        z = axis - normal * glm::dot(normal, axis);
    }
    z = z / std::sqrt(glm::dot(z, z));
    return glm::normalize(glm::quat_cast(glm::mat3(glm::cross(normal, z), normal, z)));
}

glm::vec3 placeOn(const Mesh& mesh, const SurfacePoint& p) {
    const std::uint32_t* v = &mesh.triangles[3 * std::size_t{p.triangle}];
    return mesh.positions[v[0]] * (1 - p.b - p.c) + mesh.positions[v[1]] * p.b + mesh.positions[v[2]] * p.c;
}

Homes homesOn(const Mesh& mesh, const SurfacePoints& points) {
    Homes homes;
    homes.position.resize(points.size());
    homes.rotation.resize(points.size());
    homes.id.resize(points.size());
    homes.element.resize(points.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points.size(), 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const SurfacePoint& p = points[i];
            const std::uint32_t* v = &mesh.triangles[3 * std::size_t{p.triangle}];
            const float a = 1 - p.b - p.c;
            glm::vec3 normal = mesh.normals[v[0]] * a + mesh.normals[v[1]] * p.b + mesh.normals[v[2]] * p.c;
            const float length = std::sqrt(glm::dot(normal, normal));
            normal = length > 1e-6f ? normal / length : mesh.normals[v[0]];
            const glm::vec3 tangent = mesh.tangents[v[0]] * a + mesh.tangents[v[1]] * p.b + mesh.tangents[v[2]] * p.c;
            homes.position[i] = placeOn(mesh, p);
            homes.rotation[i] = standingOn(normal, tangent);
            homes.id[i] = p.id;
            homes.element[i] = mesh.faces[p.triangle];
        }
    });
    return homes;
}

}  // namespace gswarm
