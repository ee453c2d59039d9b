#include "core/physics/collider.h"

#include <LinearMath/btConvexHullComputer.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

namespace gswarm {
namespace {

constexpr float near = 1.0f / 16;
constexpr std::size_t mostCorners = 64;

/// The hull of a mesh: its corners about the centre, and samples all over it as shares of the half sides.
struct Hull {
    std::vector<glm::vec3> corners, samples;
};

Hull hullOf(const Mesh& mesh, const glm::vec3& centre, const glm::vec3& half) {
    btConvexHullComputer computer;
    computer.compute(&mesh.positions[0].x, sizeof(glm::vec3), static_cast<int>(mesh.positions.size()), 0, 0);
    Hull hull;
    for (int k = 0; k < computer.vertices.size(); ++k) {
        const btVector3& v = computer.vertices[k];
        hull.corners.push_back(glm::vec3(v.x(), v.y(), v.z()) - centre);
    }
    const auto sample = [&](const glm::vec3& p) { hull.samples.push_back(p / glm::max(half, 1e-9f)); };
    for (const glm::vec3& corner : hull.corners) sample(corner);
    for (int f = 0; f < computer.faces.size(); ++f) {
        const auto* first = &computer.edges[computer.faces[f]];
        glm::vec3 middle(0);
        int count = 0;
        const auto* edge = first;
        do {
            middle += hull.corners[static_cast<std::size_t>(edge->getSourceVertex())];
            ++count;
            edge = edge->getNextEdgeOfFace();
        } while (edge != first);
        sample(middle / static_cast<float>(count));
    }
    return hull;
}

/// How far from a surface a sample lies, as a share of the half size.
using Away = float (*)(const glm::vec3&);
float fromBall(const glm::vec3& p) { return std::abs(1 - glm::length(p)); }
float fromBox(const glm::vec3& p) { return 1 - std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}); }
float fromTube(const glm::vec3& p) { return 1 - std::max(std::hypot(p.x, p.z), std::abs(p.y)); }

ColliderForm fittingForm(const std::vector<glm::vec3>& samples, const glm::vec3& half) {
    const auto fits = [&](Away away) {
        return std::all_of(samples.begin(), samples.end(), [&](const glm::vec3& p) { return std::abs(away(p)) <= near; });
    };
    const bool round = std::abs(half.x - half.z) <= near * std::max(half.x, half.z);
    if (round && std::abs(half.x - half.y) <= near * half.x && fits(fromBall)) return ColliderForm::ball;
    if (fits(fromBox)) return ColliderForm::box;
    return round && fits(fromTube) ? ColliderForm::tube : ColliderForm::hull;
}

/// What reaches farthest in even directions (a Fibonacci lattice on the ball).
std::vector<glm::vec3> farthest(const std::vector<glm::vec3>& corners) {
    std::vector<glm::vec3> kept;
    for (std::size_t k = 0; k < mostCorners; ++k) {
        const float y = 1 - (2 * static_cast<float>(k) + 1) / mostCorners, r = std::sqrt(1 - y * y);
        const float turn = static_cast<float>(k) * std::numbers::pi_v<float> * (3 - std::sqrt(5.0f));
        const glm::vec3 way{r * std::cos(turn), y, r * std::sin(turn)};
        const glm::vec3 corner = *std::max_element(
            corners.begin(), corners.end(), [&](const glm::vec3& a, const glm::vec3& b) { return glm::dot(a, way) < glm::dot(b, way); });
        if (std::find(kept.begin(), kept.end(), corner) == kept.end()) kept.push_back(corner);
    }
    return kept;
}

}  // namespace

float Collider::volume() const {
    const float box = 8 * half.x * half.y * half.z;
    constexpr float pi = std::numbers::pi_v<float>;
    switch (form) {
        case ColliderForm::ball:
            return box * pi / 6;
        case ColliderForm::tube:
            return box * pi / 4;
        default:
            return box;
    }
}

Collider colliderOf(const Mesh& mesh, const Bounds& bounds, ColliderForm form) {
    Collider collider;
    if (bounds.empty()) return collider;
    collider.centre = bounds.centre();
    collider.half = bounds.size() / 2.0f;
    if (mesh.triangles.empty()) return collider;
    Hull hull = hullOf(mesh, collider.centre, collider.half);
    collider.form = form == ColliderForm::fitting ? fittingForm(hull.samples, collider.half) : form;
    if (collider.form == ColliderForm::hull)
        collider.corners = hull.corners.size() > mostCorners ? farthest(hull.corners) : std::move(hull.corners);
    // What lies in a plane has no hull.
    if (collider.form == ColliderForm::hull && collider.corners.size() < 4) collider.form = ColliderForm::box;
    return collider;
}

}  // namespace gswarm
