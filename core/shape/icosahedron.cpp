#include "core/shape/icosahedron.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <tuple>

namespace gswarm {
namespace {

const std::array<glm::dvec3, 12>& corners() {
    static const std::array<glm::dvec3, 12> places = [] {
        std::array<glm::dvec3, 12> p;
        p[0] = {0, 1, 0};
        p[11] = {0, -1, 0};
        const double height = 1 / std::sqrt(5.0), radius = 2 * height;
        // cos and sin of 0, 72 … 288 degrees and of 36 … 324, written out: libraries differ in their last digit.
        const double c[] = {1, 0.30901699437494742, -0.80901699437494742, -0.80901699437494742, 0.30901699437494742};
        const double s[] = {0, 0.95105651629515357, 0.58778525229247313, -0.58778525229247313, -0.95105651629515357};
        for (int k = 0; k < 5; ++k) {
            p[static_cast<std::size_t>(1 + k)] = {radius * s[k], height, radius * c[k]};
            p[static_cast<std::size_t>(6 + k)] = {-radius * s[k], -height, -radius * c[k]};
        }
        return p;
    }();
    return places;
}

constexpr int faces[20][3] = {{0, 1, 2},  {0, 2, 3},  {0, 3, 4},  {0, 4, 5},  {0, 5, 1},   {1, 9, 2},  {2, 9, 10},
                              {2, 10, 3}, {3, 10, 6}, {3, 6, 4},  {4, 6, 7},  {4, 7, 5},   {5, 7, 8},  {5, 8, 1},
                              {1, 8, 9},  {11, 7, 6}, {11, 8, 7}, {11, 9, 8}, {11, 10, 9}, {11, 6, 10}};

/// A point of the divided face, known by the corners that take part and their shares, so that neighbours find it.
struct CornerKey {
    std::array<std::pair<int, int>, 3> shares;
    bool operator<(const CornerKey& o) const { return shares < o.shares; }
};

}  // namespace

Mesh geodesicSphere(int frequency) {
    Mesh mesh;
    std::map<CornerKey, std::uint32_t> made;
    const auto vertex = [&](const int* face, int a, int b, int c) {
        CornerKey key{{{{a ? face[0] : -1, a}, {b ? face[1] : -1, b}, {c ? face[2] : -1, c}}}};
        std::sort(key.shares.begin(), key.shares.end());
        const auto [entry, fresh] = made.try_emplace(key, static_cast<std::uint32_t>(mesh.positions.size()));
        if (fresh) {
            glm::dvec3 sum(0);
            for (const auto& [corner, share] : key.shares)
                if (share > 0) sum += corners()[static_cast<std::size_t>(corner)] * static_cast<double>(share);
            mesh.positions.push_back(glm::vec3(sum / std::sqrt(glm::dot(sum, sum))));
        }
        return entry->second;
    };
    const int n = frequency;
    for (const auto& face : faces)
        for (int i = 0; i < n; ++i)
            for (int j = 0; j < n - i; ++j) {
                const auto at = [&](int x, int y) { return vertex(face, n - x - y, x, y); };
                addFace(mesh, {at(i, j), at(i + 1, j), at(i, j + 1)});
                if (i + j + 1 < n) addFace(mesh, {at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)});
            }
    mesh.normals = mesh.positions;
    mesh.uv.resize(mesh.positions.size());
    return mesh;
}

Mesh ballFromUnit(const Mesh& unit, float radius) {
    constexpr float pi = 3.14159265359f;
    Mesh mesh;
    mesh.faces = unit.faces;
    std::map<std::tuple<std::uint32_t, float>, std::uint32_t> made;
    for (std::size_t t = 0; t < unit.triangles.size(); t += 3) {
        float u[3];
        bool pole[3];
        float sum = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            const glm::vec3& p = unit.positions[unit.triangles[t + k]];
            pole[k] = p.x * p.x + p.z * p.z < 1e-10f;
            u[k] = pole[k] ? 0 : std::atan2(p.x, p.z) / (2 * pi) + 0.5f;
        }
        const float most = std::max({u[0], u[1], u[2]});
        for (std::size_t k = 0; k < 3; ++k) {
            if (!pole[k] && most - u[k] > 0.5f) u[k] += 1;
            sum += pole[k] ? 0 : u[k];
        }
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = unit.triangles[t + k];
            const glm::vec3& p = unit.positions[v];
            const float across = pole[k] ? sum / 2 : u[k];
            const auto [entry, fresh] = made.try_emplace({v, across}, static_cast<std::uint32_t>(mesh.positions.size()));
            if (fresh) addVertex(mesh, p * radius, p, {across, std::asin(std::clamp(p.y, -1.0f, 1.0f)) / pi + 0.5f});
            mesh.triangles.push_back(entry->second);
        }
    }
    return mesh;
}

}  // namespace gswarm
