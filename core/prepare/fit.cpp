#include "core/prepare/fit.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace gswarm {
namespace {

constexpr std::size_t mostNormals = 400, mostEdges = 16;

void addDirection(std::vector<glm::vec3>& directions, glm::vec3 d, std::size_t most) {
    const float length = glm::length(d);
    if (!(length > 1e-12f) || directions.size() >= most) return;
    d /= length;
    for (const auto& other : directions)
        if (std::abs(glm::dot(other, d)) > 0.999999f) return;
    directions.push_back(d);
}

/// Reach of the mesh from its foot along a direction.
struct Reach {
    double low = 1e300, high = -1e300;
};
Reach reachAlong(const Mesh& mesh, const glm::vec3& foot, const glm::vec3& direction) {
    Reach reach;
    for (const auto& p : mesh.positions) {
        const double d = glm::dot(glm::dvec3(p - foot), glm::dvec3(direction));
        reach.low = std::min(reach.low, d);
        reach.high = std::max(reach.high, d);
    }
    return reach;
}

/// The size at which a copy and its neighbour touch along a direction; 0 if it can't tell them apart.
double touchingAlong(const Mesh& mesh, const glm::vec3& foot, const Neighbour& n, const glm::vec3& direction) {
    const Reach own = reachAlong(mesh, foot, direction), other = reachAlong(mesh, foot, glm::conjugate(n.rotation) * direction);
    const double apart = glm::dot(glm::dvec3(n.offset), glm::dvec3(direction));
    const double ahead = own.high - other.low * n.size, behind = other.high * n.size - own.low;
    if (apart > 0 && ahead > 0) return apart / ahead;
    if (apart < 0 && behind > 0) return -apart / behind;
    return 0;
}

}  // namespace

HullDirections hullDirections(const Mesh& mesh) {
    HullDirections out;
    for (std::size_t t = 0; t < mesh.triangles.size() && out.normals.size() < mostNormals; t += 3) {
        const glm::vec3 &a = mesh.positions[mesh.triangles[t]], &b = mesh.positions[mesh.triangles[t + 1]],
                        &c = mesh.positions[mesh.triangles[t + 2]];
        addDirection(out.normals, glm::cross(b - a, c - a), mostNormals);
    }
    for (std::size_t t = 0; t < mesh.triangles.size() && out.edges.size() < mostEdges; t += 3)
        for (std::size_t k = 0; k < 3; ++k)
            addDirection(out.edges, mesh.positions[mesh.triangles[t + (k + 1) % 3]] - mesh.positions[mesh.triangles[t + k]], mostEdges);
    return out;
}

float fitSize(const Spacing& spacing, const Mesh& mesh, const glm::vec3& foot) {
    if (mesh.positions.empty()) return 0;
    if (spacing.neighbours.empty()) {
        double widest = 0;
        for (const auto& p : mesh.positions) {
            const glm::vec3 from = p - foot;
            widest = std::max(widest,
                              std::sqrt(double(from.x) * from.x + double(from.z) * from.z + (spacing.flat ? 0 : double(from.y) * from.y)));
        }
        return widest > 0 ? static_cast<float>(spacing.reach / (2 * widest)) : 0;
    }
    const HullDirections hull = hullDirections(mesh);
    double least = 1e300;
    for (const Neighbour& n : spacing.neighbours) {
        if (glm::dot(n.offset, n.offset) == 0) continue;
        double best = touchingAlong(mesh, foot, n, glm::normalize(n.offset));
        const auto offer = [&](const glm::vec3& direction) { best = std::max(best, touchingAlong(mesh, foot, n, direction)); };
        for (const auto& d : hull.normals) offer(d), offer(n.rotation * d);
        for (const auto& a : hull.edges)
            for (const auto& b : hull.edges)
                if (const glm::vec3 d = glm::cross(a, n.rotation * b); glm::dot(d, d) > 1e-6f) offer(glm::normalize(d));
        least = std::min(least, best);
    }
    return least < 1e300 ? static_cast<float>(least) : 0;
}

}  // namespace gswarm
