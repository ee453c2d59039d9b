#include "core/read/solid.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>
#include <set>
#include <tuple>

namespace gswarm {
namespace {

using glm::vec3;
using Triangle = std::array<vec3, 3>;

constexpr std::uint32_t leafSize = 4;

vec3 normalOf(const Triangle& t) { return glm::cross(t[1] - t[0], t[2] - t[0]); }

void build(Solid& solid, std::uint32_t node, std::uint32_t first, std::uint32_t count) {
    Bounds bounds, middles;
    for (std::uint32_t t = first; t < first + count; ++t) {
        for (const auto& p : solid.triangles[t]) bounds.add(p);
        middles.add((solid.triangles[t][0] + solid.triangles[t][1] + solid.triangles[t][2]) / 3.0f);
    }
    solid.tree[node] = {bounds, first, count};
    if (count <= leafSize) return;
    const vec3 size = middles.size();
    const int axis = size.x > size.y && size.x > size.z ? 0 : size.y > size.z ? 1 : 2;
    const auto half = count / 2;
    const auto begin = solid.triangles.begin() + first;
    std::nth_element(begin, begin + half, begin + count, [axis](const Triangle& a, const Triangle& b) {
        return a[0][axis] + a[1][axis] + a[2][axis] < b[0][axis] + b[1][axis] + b[2][axis];
    });
    const auto children = static_cast<std::uint32_t>(solid.tree.size());
    solid.tree.resize(children + 2);
    solid.tree[node].first = children;
    solid.tree[node].count = 0;
    build(solid, children, first, half);
    build(solid, children + 1, first + half, count - half);
}

// ---- convex: GJK

vec3 farthest(const Placed& s, const vec3& direction) {
    const vec3 local = glm::transpose(s.axes) * direction;
    const vec3* best = &s.solid->hull.front();
    float reach = glm::dot(*best, local);
    for (const auto& p : s.solid->hull)
        if (const float d = glm::dot(p, local); d > reach) reach = d, best = &p;
    return s.toWorld(*best);
}

/// The simplex nearest to the origin shrinks to what matters; true if it encloses the origin.
bool towardOrigin(std::array<vec3, 4>& s, int& n, vec3& direction) {
    const auto line = [&](const vec3& a, const vec3& b) {
        s[0] = b, s[1] = a, n = 2;
        direction = glm::cross(glm::cross(b - a, -a), b - a);
        if (glm::dot(direction, direction) < 1e-24f)
            direction = glm::cross(b - a, std::abs((b - a).x) > std::abs((b - a).y) ? vec3(0, 1, 0) : vec3(1, 0, 0));
    };
    const auto point = [&](const vec3& a) { s[0] = a, n = 1, direction = -a; };
    const auto edge = [&](const vec3& a, const vec3& b) { glm::dot(b - a, -a) > 0 ? line(a, b) : point(a); };
    const auto face = [&](const vec3& a, const vec3& b, const vec3& c) {
        const vec3 normal = glm::cross(b - a, c - a);
        if (glm::dot(glm::cross(normal, c - a), -a) > 0) return glm::dot(c - a, -a) > 0 ? line(a, c) : edge(a, b);
        if (glm::dot(glm::cross(b - a, normal), -a) > 0) return edge(a, b);
        const bool above = glm::dot(normal, -a) > 0;
        s[0] = above ? c : b, s[1] = above ? b : c, s[2] = a, n = 3;
        direction = above ? normal : -normal;
    };
    if (n == 2) return edge(s[1], s[0]), false;
    if (n == 3) return face(s[2], s[1], s[0]), false;
    const vec3 a = s[3], b = s[2], c = s[1], d = s[0];
    if (glm::dot(glm::cross(b - a, c - a), -a) > 0) return face(a, b, c), false;
    if (glm::dot(glm::cross(c - a, d - a), -a) > 0) return face(a, c, d), false;
    if (glm::dot(glm::cross(d - a, b - a), -a) > 0) return face(a, d, b), false;
    return true;
}

bool hullsOverlap(const Placed& a, const Placed& b) {
    vec3 direction = b.toWorld(b.solid->bounds.centre()) - a.toWorld(a.solid->bounds.centre());
    if (glm::dot(direction, direction) == 0) return true;
    std::array<vec3, 4> simplex;
    simplex[0] = farthest(a, direction) - farthest(b, -direction);
    int n = 1;
    direction = -simplex[0];
    for (int step = 0; step < 48; ++step) {
        if (glm::dot(direction, direction) < 1e-24f) return true;
        const vec3 next = farthest(a, direction) - farthest(b, -direction);
        if (glm::dot(next, direction) <= 0) return false;
        simplex[static_cast<std::size_t>(n++)] = next;
        if (towardOrigin(simplex, n, direction)) return true;
    }
    return false;  // only hairline contacts take this long
}

// ---- any mesh: triangles through two trees

bool crosses(const vec3& p, const vec3& q, const Triangle& t) {
    const vec3 edge1 = t[1] - t[0], edge2 = t[2] - t[0], along = q - p, h = glm::cross(along, edge2);
    const float det = glm::dot(edge1, h);
    if (std::abs(det) < 1e-20f) return false;
    const vec3 from = p - t[0], k = glm::cross(from, edge1);
    const float u = glm::dot(from, h) / det, v = glm::dot(along, k) / det, at = glm::dot(edge2, k) / det;
    return u >= 0 && v >= 0 && u + v <= 1 && at >= 0 && at <= 1;
}

/// All of b on one side of a's plane.
bool besidePlane(const Triangle& a, const Triangle& b) {
    const vec3 n = normalOf(a);
    const float d0 = glm::dot(n, b[0] - a[0]), d1 = glm::dot(n, b[1] - a[0]), d2 = glm::dot(n, b[2] - a[0]);
    return (d0 > 0 && d1 > 0 && d2 > 0) || (d0 < 0 && d1 < 0 && d2 < 0);
}

bool trianglesCross(const Triangle& a, const Triangle& b) {
    if (besidePlane(a, b) || besidePlane(b, a)) return false;
    for (std::size_t k = 0; k < 3; ++k)
        if (crosses(a[k], a[(k + 1) % 3], b) || crosses(b[k], b[(k + 1) % 3], a)) return true;
    return false;
}

Bounds moved(const Bounds& box, const glm::mat3& axes, const vec3& place) {
    const vec3 middle = axes * box.centre() + place, half = box.size() * 0.5f;
    const vec3 reach = glm::abs(axes[0]) * half.x + glm::abs(axes[1]) * half.y + glm::abs(axes[2]) * half.z;
    return {middle - reach, middle + reach};
}
bool apart(const Bounds& a, const Bounds& b) { return glm::any(glm::lessThan(a.high, b.low)) || glm::any(glm::lessThan(b.high, a.low)); }

struct TreeWalk {
    const Solid &a, &b;
    glm::mat3 axes;  ///< b's places in a's
    vec3 place;
    const Progress& progress;

    bool walk(std::uint32_t x, std::uint32_t y) const {
        const Solid::Node &p = a.tree[x], &q = b.tree[y];
        if (apart(p.bounds, moved(q.bounds, axes, place)) || progress.cancelled()) return false;
        if (p.count && q.count) {
            for (std::uint32_t j = q.first; j < q.first + q.count; ++j) {
                Triangle other;
                for (std::size_t k = 0; k < 3; ++k) other[k] = axes * b.triangles[j][k] + place;
                for (std::uint32_t i = p.first; i < p.first + p.count; ++i)
                    if (trianglesCross(a.triangles[i], other)) return true;
            }
            return false;
        }
        if (q.count || (!p.count && p.bounds.size().x > q.bounds.size().x)) return walk(p.first, y) || walk(p.first + 1, y);
        return walk(x, q.first) || walk(x, q.first + 1);
    }
};

/// Crossings of a ray from a place along +X, by sign: not 0 inside.
bool encloses(const Solid& solid, const vec3& p) {
    if (glm::any(glm::lessThan(p, solid.bounds.low)) || glm::any(glm::lessThan(solid.bounds.high, p))) return false;
    int winding = 0;
    for (const Triangle& t : solid.triangles) {
        const auto side = [&](const vec3& a, const vec3& b) { return (b.y - a.y) * (p.z - a.z) - (b.z - a.z) * (p.y - a.y); };
        const float s0 = side(t[1], t[2]), s1 = side(t[2], t[0]), s2 = side(t[0], t[1]), whole = s0 + s1 + s2;
        if (whole == 0 || (s0 > 0) != (s1 > 0) || (s0 > 0) != (s2 > 0)) continue;
        if ((s0 * t[0].x + s1 * t[1].x + s2 * t[2].x) / whole > p.x) winding += s0 > 0 ? 1 : -1;
    }
    return winding != 0;
}

}  // namespace

Solid solidOf(const Mesh& mesh) {
    Solid solid;
    solid.bounds = boundsOf(mesh);
    const vec3 middle = solid.bounds.centre(), half = solid.bounds.size() * 0.5f;
    std::set<std::tuple<float, float, float>> seen;
    bool cornersOnly = true;
    for (const auto& p : mesh.positions) {
        solid.outer = std::max(solid.outer, glm::length(p - middle));
        if (!seen.insert({p.x, p.y, p.z}).second) continue;
        solid.hull.push_back(p);
        const vec3 away = glm::abs(glm::abs(p - middle) - half);
        cornersOnly = cornersOnly && away.x <= 1e-5f * half.x && away.y <= 1e-5f * half.y && away.z <= 1e-5f * half.z;
    }
    solid.box = cornersOnly && seen.size() == 8;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3)
        solid.triangles.push_back(
            {mesh.positions[mesh.triangles[t]], mesh.positions[mesh.triangles[t + 1]], mesh.positions[mesh.triangles[t + 2]]});
    if (solid.triangles.empty()) return solid;
    // Convex if nothing lies before any face. Large meshes are looked at through their triangles anyway.
    const float slack = 1e-3f * solid.outer;  // bent quads of rounded edges are as good as convex
    solid.convex = solid.hull.size() * solid.triangles.size() < 8'000'000;
    solid.inner = solid.outer;
    solid.within = 1;
    for (std::size_t t = 0; solid.convex && t < solid.triangles.size(); ++t) {
        const vec3 n = normalOf(solid.triangles[t]);
        const float length = glm::length(n);
        if (length < 1e-20f) continue;
        const vec3 unit = n / length;
        const float away = glm::dot(solid.triangles[t][0] - middle, unit);
        solid.inner = std::min(solid.inner, away);
        solid.within = std::min(solid.within, away / std::max(glm::dot(glm::abs(unit), half), 1e-20f));
        solid.convex = std::all_of(solid.hull.begin(), solid.hull.end(),
                                   [&](const vec3& p) { return glm::dot(p - solid.triangles[t][0], unit) <= slack; });
    }
    solid.inner = std::max(0.0f, solid.inner);
    solid.within = std::max(0.0f, solid.within);
    solid.tree.resize(1);
    build(solid, 0, 0, static_cast<std::uint32_t>(solid.triangles.size()));
    return solid;
}

bool boxesOverlap(const Placed& a, const Placed& b, float shareA, float shareB) {
    // Gottschalk, Lin and Manocha 1996, with axes that carry their half lengths.
    const vec3 ha = a.solid->bounds.size() * (0.5f * shareA), hb = b.solid->bounds.size() * (0.5f * shareB);
    const vec3 away = b.toWorld(b.solid->bounds.centre()) - a.toWorld(a.solid->bounds.centre());
    const glm::mat3 A(a.axes[0] * ha.x, a.axes[1] * ha.y, a.axes[2] * ha.z), B(b.axes[0] * hb.x, b.axes[1] * hb.y, b.axes[2] * hb.z);
    const auto apartAlong = [&](const vec3& axis) {
        const float reach = std::abs(glm::dot(A[0], axis)) + std::abs(glm::dot(A[1], axis)) + std::abs(glm::dot(A[2], axis)) +
                            std::abs(glm::dot(B[0], axis)) + std::abs(glm::dot(B[1], axis)) + std::abs(glm::dot(B[2], axis));
        return std::abs(glm::dot(away, axis)) > reach;
    };
    for (int k = 0; k < 3; ++k)
        if (apartAlong(a.axes[k]) || apartAlong(b.axes[k])) return false;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            if (const vec3 axis = glm::cross(a.axes[i], b.axes[j]); glm::dot(axis, axis) > 1e-12f && apartAlong(axis)) return false;
    return true;
}

bool solidsOverlap(const Placed& a, const Placed& b, const Progress& progress) {
    if (a.solid->box && b.solid->box) return true;
    const auto shortest = [](const glm::mat3& m) {
        return std::sqrt(std::min({glm::dot(m[0], m[0]), glm::dot(m[1], m[1]), glm::dot(m[2], m[2])}));
    };
    const auto longest = [](const glm::mat3& m) {
        return std::sqrt(std::max({glm::dot(m[0], m[0]), glm::dot(m[1], m[1]), glm::dot(m[2], m[2])}));
    };
    const float away = glm::distance(a.toWorld(a.solid->bounds.centre()), b.toWorld(b.solid->bounds.centre()));
    if (away >= a.solid->outer * longest(a.axes) + b.solid->outer * longest(b.axes)) return false;
    if (a.solid->convex && b.solid->convex) {
        if (away < a.solid->inner * shortest(a.axes) + b.solid->inner * shortest(b.axes)) return true;
        if (boxesOverlap(a, b, a.solid->within, b.solid->within)) return true;
        return hullsOverlap(a, b);
    }
    if (a.solid->triangles.empty() || b.solid->triangles.empty()) return false;
    const glm::mat3 back = glm::inverse(a.axes);
    const glm::mat3 axes = back * b.axes;
    const vec3 place = back * (b.place - a.place);
    if (TreeWalk{*a.solid, *b.solid, axes, place, progress}.walk(0, 0)) return true;
    if (progress.cancelled()) return false;
    // No surface crosses another: then one holds the other whole, or they are apart.
    const vec3 first = glm::inverse(b.axes) * (a.toWorld(a.solid->hull.front()) - b.place);
    return encloses(*a.solid, axes * b.solid->hull.front() + place) || encloses(*b.solid, first);
}

}  // namespace gswarm
