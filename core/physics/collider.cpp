#include "core/physics/collider.h"

#include <HACD/hacdHACD.h>
#include <LinearMath/btConvexHullComputer.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <numbers>
#include <tuple>

namespace gswarm {
namespace {

constexpr float near = 1.0f / 16;
constexpr std::size_t mostCorners = 64;

/// The hull of a mesh: its corners about the centre, and samples all over it as shares of the half sides.
struct Hull {
    std::vector<glm::vec3> corners, samples;
    float volume = 0;
};

/// Of the tetrahedron from the middle to a triangle.
float volumeTo(const glm::vec3& a, const glm::vec3& b, const glm::vec3& c) { return glm::dot(a, glm::cross(b, c)) / 6; }

/// Of a closed mesh; of one that is not, some number.
float volumeOf(const Mesh& mesh, const glm::vec3& centre) {
    float volume = 0;
    const auto at = [&](std::size_t k) { return mesh.positions[mesh.triangles[k]] - centre; };
    for (std::size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) volume += volumeTo(at(t), at(t + 1), at(t + 2));
    return std::abs(volume);
}

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
        const auto corner = [&](int k) { return hull.corners[static_cast<std::size_t>(k)]; };
        const glm::vec3 fan = corner(first->getSourceVertex());
        do {
            middle += corner(edge->getSourceVertex());
            hull.volume += volumeTo(fan, corner(edge->getSourceVertex()), corner(edge->getTargetVertex()));
            ++count;
            edge = edge->getNextEdgeOfFace();
        } while (edge != first);
        sample(middle / static_cast<float>(count));
    }
    hull.volume = std::abs(hull.volume);
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

/// Convex pieces that together follow the mesh (hierarchical approximate convex decomposition, Mamou and Ghorbel 2009). Empty where
/// the method finds none.
std::vector<std::vector<glm::vec3>> hullsOf(const Mesh& mesh, const glm::vec3& centre) {
    // Corners at one place are one.
    std::map<std::tuple<float, float, float>, long> known;
    std::vector<HACD::Vec3<HACD::Real>> points;
    std::vector<HACD::Vec3<long>> triangles;
    std::vector<long> at;
    for (const glm::vec3& p : mesh.positions) {
        const auto [found, fresh] = known.try_emplace({p.x, p.y, p.z}, static_cast<long>(points.size()));
        if (fresh) points.emplace_back(p.x - centre.x, p.y - centre.y, p.z - centre.z);
        at.push_back(found->second);
    }
    for (std::size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) {
        const long a = at[mesh.triangles[t]], b = at[mesh.triangles[t + 1]], c = at[mesh.triangles[t + 2]];
        if (a != b && b != c && c != a) triangles.emplace_back(a, b, c);
    }
    if (triangles.empty()) return {};
    HACD::HACD method;
    method.SetPoints(points.data());
    method.SetNPoints(points.size());
    method.SetTriangles(triangles.data());
    method.SetNTriangles(triangles.size());
    method.SetCompacityWeight(0.1);
    method.SetVolumeWeight(0);
    method.SetNClusters(1);
    method.SetNVerticesPerCH(32);
    method.SetConcavity(20);  // thousandths of the size
    method.SetAddExtraDistPoints(false);
    method.SetAddNeighboursDistPoints(false);
    method.SetAddFacesPoints(false);
    if (!method.Compute()) return {};
    std::vector<std::vector<glm::vec3>> hulls;
    for (std::size_t k = 0; k < method.GetNClusters(); ++k) {
        std::vector<HACD::Vec3<HACD::Real>> corners(method.GetNPointsCH(k));
        std::vector<HACD::Vec3<long>> faces(method.GetNTrianglesCH(k));
        method.GetCH(k, corners.data(), faces.data());
        std::vector<glm::vec3> hull;
        for (const auto& p : corners) hull.emplace_back(float(p.X()), float(p.Y()), float(p.Z()));
        if (hull.size() >= 4) hulls.push_back(std::move(hull));
    }
    return hulls;
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
            return box * filled;
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
    // What is round or flat all over needs but one.
    const float filled = std::min(volumeOf(mesh, collider.centre), hull.volume);
    const bool convex = filled > 0.97f * hull.volume;
    if (collider.form == ColliderForm::hulls && !convex && mesh.triangleCount() <= mostTrianglesOfHulls)
        collider.hulls = hullsOf(mesh, collider.centre);
    if (collider.form == ColliderForm::hulls && collider.hulls.size() < 2) collider.form = ColliderForm::hull;
    // What lies in a plane has no hull.
    if (collider.form == ColliderForm::hull && hull.corners.size() < 4) collider.form = ColliderForm::box;
    if (collider.form == ColliderForm::hull)
        collider.hulls = {hull.corners.size() > mostCorners ? farthest(hull.corners) : std::move(hull.corners)};
    const float box = 8 * collider.half.x * collider.half.y * collider.half.z;
    // A mesh with holes in it has at least a twentieth of its hull.
    if (box > 0 && collider.form == ColliderForm::hull) collider.filled = hull.volume / box;
    if (box > 0 && collider.form == ColliderForm::hulls) collider.filled = std::max(filled, 0.05f * hull.volume) / box;
    return collider;
}

namespace {

constexpr int stepsAround = 32;

/// A circle in the plane of two axes.
std::vector<glm::vec3> circle(const glm::vec3& middle, const glm::vec3& along, const glm::vec3& across) {
    std::vector<glm::vec3> line;
    for (int k = 0; k <= stepsAround; ++k) {
        const float turn = static_cast<float>(k) * (2 * std::numbers::pi_v<float> / stepsAround);
        line.push_back(middle + along * std::cos(turn) + across * std::sin(turn));
    }
    return line;
}

void addEdges(const std::vector<glm::vec3>& corners, const glm::vec3& centre, std::vector<std::vector<glm::vec3>>& lines) {
    btConvexHullComputer hull;
    hull.compute(&corners[0].x, sizeof(glm::vec3), static_cast<int>(corners.size()), 0, 0);
    const auto at = [&](int k) { return centre + glm::vec3(hull.vertices[k].x(), hull.vertices[k].y(), hull.vertices[k].z()); };
    for (int e = 0; e < hull.edges.size(); ++e) {
        const auto& edge = hull.edges[e];
        if (edge.getSourceVertex() < edge.getTargetVertex()) lines.push_back({at(edge.getSourceVertex()), at(edge.getTargetVertex())});
    }
}

}  // namespace

std::vector<std::vector<glm::vec3>> linesOf(const Collider& collider) {
    const glm::vec3 &c = collider.centre, &half = collider.half;
    const glm::vec3 x(half.x, 0, 0), y(0, half.y, 0), z(0, 0, half.z);
    std::vector<std::vector<glm::vec3>> lines;
    switch (collider.form) {
        case ColliderForm::ball:
            return {circle(c, x, y), circle(c, y, z), circle(c, z, x)};
        case ColliderForm::tube:
            lines = {circle(c + y, x, z), circle(c - y, x, z)};
            for (const glm::vec3& side : {x, -x, z, -z}) lines.push_back({c + side + y, c + side - y});
            return lines;
        case ColliderForm::hull:
        case ColliderForm::hulls:
            for (const auto& corners : collider.hulls) addEdges(corners, c, lines);
            return lines;
        default:
            for (const float up : {-1.0f, 1.0f}) {
                const glm::vec3 m = c + y * up;
                lines.push_back({m + x + z, m + x - z, m - x - z, m - x + z, m + x + z});
            }
            for (const glm::vec3& side : {x + z, x - z, -x - z, -x + z}) lines.push_back({c + side + y, c + side - y});
            return lines;
    }
}

}  // namespace gswarm
