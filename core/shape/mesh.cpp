#include "core/shape/mesh.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <map>
#include <unordered_map>

namespace gswarm {
namespace {

glm::vec3 anyAcross(const glm::vec3& normal) {
    const glm::vec3 axis = std::abs(normal.x) < 0.9f ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
    return glm::normalize(axis - normal * glm::dot(axis, normal));
}

struct SamePlace {
    bool operator()(const glm::vec3& a, const glm::vec3& b) const { return a == b; }
};
struct PlaceHash {
    std::size_t operator()(const glm::vec3& p) const {
        std::uint64_t hash = 0x9E3779B97F4A7C15ull;
        for (const float v : {p.x + 0.0f, p.y + 0.0f, p.z + 0.0f}) {  // −0 and 0 are the same place
            std::uint32_t bits = 0;
            std::memcpy(&bits, &v, 4);
            hash = (hash ^ bits) * 0xBF58476D1CE4E5B9ull;
            hash ^= hash >> 29;
        }
        return hash;
    }
};

glm::vec3 safeNormal(const glm::vec3& sum, const glm::vec3& otherwise) {
    const float length = glm::length(sum);
    return length > 0 && std::isfinite(length) ? sum / length : otherwise;
}

}  // namespace

void Bounds::add(const glm::vec3& p) {
    low = glm::min(low, p);
    high = glm::max(high, p);
}

float numberAt(const Mesh& mesh, const std::string& value, std::uint32_t triangle, float b, float c) {
    const std::uint32_t* v = &mesh.triangles[3 * std::size_t{triangle}];
    for (const NamedNumbers& named : mesh.numbers)
        if (named.name == value) return named.numbers[v[0]] * (1 - b - c) + named.numbers[v[1]] * b + named.numbers[v[2]] * c;
    return 0;
}

Bounds boundsOf(const Mesh& mesh) {
    Bounds bounds;
    for (const auto& p : mesh.positions) bounds.add(p);
    return bounds;
}

std::uint32_t addVertex(Mesh& mesh, const glm::vec3& position, const glm::vec3& normal, const glm::vec2& uv) {
    mesh.positions.push_back(position);
    mesh.normals.push_back(normal);
    mesh.uv.push_back(uv);
    return static_cast<std::uint32_t>(mesh.positions.size()) - 1;
}

void addFace(Mesh& mesh, std::initializer_list<std::uint32_t> triangles) {
    const std::uint32_t face = mesh.faceCount();
    mesh.triangles.insert(mesh.triangles.end(), triangles);
    mesh.faces.insert(mesh.faces.end(), triangles.size() / 3, face);
}

void addGridFaces(Mesh& mesh, std::uint32_t first, int columns, int rows) {
    const auto width = static_cast<std::uint32_t>(columns + 1);
    for (std::uint32_t r = 0; r < static_cast<std::uint32_t>(rows); ++r)
        for (std::uint32_t c = 0; c < static_cast<std::uint32_t>(columns); ++c) {
            const std::uint32_t a = first + r * width + c;
            addFace(mesh, {a, a + 1, a + width + 1, a, a + width + 1, a + width});
        }
}

void addFlatPolygon(Mesh& mesh, std::span<const glm::vec3> corners) {
    glm::vec3 sum(0);
    for (std::size_t i = 0; i < corners.size(); ++i) sum += glm::cross(corners[i], corners[(i + 1) % corners.size()]);
    const glm::vec3 normal = safeNormal(sum, {0, 1, 0});
    const glm::vec3 u = safeNormal(corners[1] - corners[0], anyAcross(normal)), v = glm::cross(normal, u);
    glm::vec2 low(1e30f), high(-1e30f);
    for (const auto& c : corners) {
        const glm::vec2 flat(glm::dot(c, u), glm::dot(c, v));
        low = glm::min(low, flat);
        high = glm::max(high, flat);
    }
    const glm::vec2 size = glm::max(high - low, glm::vec2(1e-20f));
    const std::uint32_t face = mesh.faceCount();
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    for (const auto& c : corners) addVertex(mesh, c, normal, (glm::vec2(glm::dot(c, u), glm::dot(c, v)) - low) / size);
    for (std::uint32_t i = 1; i + 1 < corners.size(); ++i) {
        mesh.triangles.insert(mesh.triangles.end(), {first, first + i, first + i + 1});
        mesh.faces.push_back(face);
    }
}

void append(Mesh& mesh, const Mesh& more) {
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    const std::uint32_t face = mesh.faceCount();
    if (!more.colours.empty() || !mesh.colours.empty()) {
        mesh.colours.resize(first, glm::vec4(1));
        mesh.colours.insert(mesh.colours.end(), more.colours.begin(), more.colours.end());
        mesh.colours.resize(first + more.positions.size(), glm::vec4(1));
    }
    mesh.positions.insert(mesh.positions.end(), more.positions.begin(), more.positions.end());
    mesh.normals.insert(mesh.normals.end(), more.normals.begin(), more.normals.end());
    mesh.tangents.insert(mesh.tangents.end(), more.tangents.begin(), more.tangents.end());
    mesh.uv.insert(mesh.uv.end(), more.uv.begin(), more.uv.end());
    for (const std::uint32_t t : more.triangles) mesh.triangles.push_back(first + t);
    for (const std::uint32_t f : more.faces) mesh.faces.push_back(face + f);
}

void addTangents(Mesh& mesh) {
    mesh.tangents.assign(mesh.positions.size(), glm::vec3(0));
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        const std::uint32_t a = mesh.triangles[t], b = mesh.triangles[t + 1], c = mesh.triangles[t + 2];
        const glm::vec3 ab = mesh.positions[b] - mesh.positions[a], ac = mesh.positions[c] - mesh.positions[a];
        const glm::vec2 uvB = mesh.uv[b] - mesh.uv[a], uvC = mesh.uv[c] - mesh.uv[a];
        const float area = uvB.x * uvC.y - uvB.y * uvC.x;
        const glm::vec3 along = (ab * uvC.y - ac * uvB.y) * (area < 0 ? -1.0f : 1.0f);
        for (const std::uint32_t v : {a, b, c}) mesh.tangents[v] += along;
    }
    for (std::size_t i = 0; i < mesh.tangents.size(); ++i) {
        const glm::vec3& n = mesh.normals[i];
        const glm::vec3 flat = mesh.tangents[i] - n * glm::dot(n, mesh.tangents[i]);
        // What is left where nearly all lies along the normal is rounding alone.
        const bool says = glm::dot(flat, flat) > 1e-8f * glm::dot(mesh.tangents[i], mesh.tangents[i]);
        mesh.tangents[i] = says ? safeNormal(flat, anyAcross(n)) : anyAcross(n);
    }
}

namespace {

/// The smooth normals at a place where thousands of triangles meet. Comparing each with each would take minutes, so that those
/// of nearly the same direction (a thirty-second of a radian) count as one.
class CrowdedPlace {
  public:
    void add(const glm::vec3& normal, float angle) {
        Bundle& bundle = bundles_[keyOf(normal)];
        bundle.sum += normal * angle;
        bundle.mean += normal;
    }
    glm::vec3 normal(const glm::vec3& own, float least) {
        Bundle& bundle = bundles_[keyOf(own)];
        if (!bundle.known) {
            const glm::vec3 mean = safeNormal(bundle.mean, own);
            glm::vec3 sum(0);
            for (const auto& [key, other] : bundles_)
                if (glm::dot(mean, safeNormal(other.mean, mean)) >= least) sum += other.sum;
            bundle.normal = sum;
            bundle.known = true;
        }
        return bundle.normal;
    }

  private:
    struct Bundle {
        glm::vec3 sum{0}, mean{0}, normal{0};
        bool known = false;
    };
    static std::array<int, 3> keyOf(const glm::vec3& n) {
        constexpr float fine = 32;
        return {static_cast<int>(std::floor(n.x * fine)), static_cast<int>(std::floor(n.y * fine)),
                static_cast<int>(std::floor(n.z * fine))};
    }
    std::map<std::array<int, 3>, Bundle> bundles_;
};

}  // namespace

Mesh withNormals(const Mesh& mesh, float creaseDegrees) {
    const std::size_t triangles = mesh.triangleCount();
    const float least = std::cos(creaseDegrees * 0.0174532925f);
    std::vector<glm::vec3> faceNormals(triangles);
    std::unordered_map<glm::vec3, std::uint32_t, PlaceHash, SamePlace> places;
    std::vector<std::uint32_t> place(mesh.positions.size());
    for (std::size_t v = 0; v < place.size(); ++v)
        place[v] = places.try_emplace(mesh.positions[v], static_cast<std::uint32_t>(places.size())).first->second;
    // Corners of triangles, gathered by place.
    std::vector<std::uint32_t> start(places.size() + 1, 0), corners(mesh.triangles.size());
    for (const std::uint32_t v : mesh.triangles) ++start[place[v] + 1];
    for (std::size_t p = 1; p < start.size(); ++p) start[p] += start[p - 1];
    auto next = start;
    std::vector<float> angles(mesh.triangles.size());
    for (std::size_t k = 0; k < mesh.triangles.size(); ++k) {
        const std::size_t t = k / 3 * 3;
        const glm::vec3 at = mesh.positions[mesh.triangles[k]];
        const glm::vec3 a = mesh.positions[mesh.triangles[t + (k + 1 - t) % 3]] - at;
        const glm::vec3 b = mesh.positions[mesh.triangles[t + (k + 2 - t) % 3]] - at;
        const float size = glm::length(a) * glm::length(b);
        angles[k] = size > 0 ? std::acos(std::clamp(glm::dot(a, b) / size, -1.0f, 1.0f)) : 0;
        if (k % 3 == 0) faceNormals[k / 3] = safeNormal(glm::cross(a, b), glm::vec3(0));
        corners[next[place[mesh.triangles[k]]]++] = static_cast<std::uint32_t>(k);
    }
    Mesh out;
    out.faces = mesh.faces;
    out.triangles.reserve(mesh.triangles.size());
    std::vector<std::vector<std::uint32_t>> made(places.size());
    constexpr std::uint32_t crowd = 1024;
    std::map<std::uint32_t, CrowdedPlace> crowded;
    for (std::uint32_t p = 0; p < places.size(); ++p)
        if (start[p + 1] - start[p] > crowd)
            for (std::uint32_t c = start[p]; c < start[p + 1]; ++c) crowded[p].add(faceNormals[corners[c] / 3], angles[corners[c]]);
    const bool coloured = !mesh.colours.empty();
    for (std::size_t k = 0; k < mesh.triangles.size(); ++k) {
        const std::uint32_t v = mesh.triangles[k], p = place[v];
        const glm::vec3& own = faceNormals[k / 3];
        glm::vec3 sum(0);
        if (start[p + 1] - start[p] > crowd)
            sum = crowded[p].normal(own, least);
        else
            for (std::uint32_t c = start[p]; c < start[p + 1]; ++c)
                if (const glm::vec3& other = faceNormals[corners[c] / 3]; glm::dot(own, other) >= least) sum += other * angles[corners[c]];
        const glm::vec3 normal = safeNormal(sum, own == glm::vec3(0) ? glm::vec3(0, 1, 0) : own);
        const auto same = std::find_if(made[p].begin(), made[p].end(), [&](std::uint32_t m) {
            return glm::distance(out.normals[m], normal) < 1e-4f && out.uv[m] == mesh.uv[v] &&
                   (!coloured || out.colours[m] == mesh.colours[v]);
        });
        if (same != made[p].end()) {
            out.triangles.push_back(*same);
            continue;
        }
        const std::uint32_t fresh = addVertex(out, mesh.positions[v], normal, mesh.uv[v]);
        if (coloured) out.colours.push_back(mesh.colours[v]);
        made[p].push_back(fresh);
        out.triangles.push_back(fresh);
    }
    return out;
}

}  // namespace gswarm
