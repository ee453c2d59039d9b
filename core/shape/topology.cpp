#include "core/shape/topology.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <numeric>
#include <unordered_map>

namespace gswarm {
namespace {

std::uint64_t pairKey(std::uint32_t a, std::uint32_t b) { return static_cast<std::uint64_t>(a) << 32 | b; }

/// Corners found on a lattice a little wider than the tolerance: a neighbour may lie in the next cell.
class Welder {
  public:
    Welder(float tolerance, Topology& out) : tolerance_(tolerance), out_(out) {}

    std::uint32_t cornerAt(const glm::vec3& p) {
        const glm::dvec3 scaled = glm::dvec3(p) / (4.0 * tolerance_);
        const glm::i64vec3 cell(std::floor(scaled.x), std::floor(scaled.y), std::floor(scaled.z));
        const auto reach = [&](int axis, int side) {
            const double inside = scaled[axis] - static_cast<double>(cell[axis]);
            return side == 0 || (side < 0 && inside < 0.26) || (side > 0 && inside > 0.74);
        };
        for (int x = -1; x <= 1; ++x)
            for (int y = -1; y <= 1; ++y)
                for (int z = -1; z <= 1; ++z) {
                    if (!reach(0, x) || !reach(1, y) || !reach(2, z)) continue;
                    const auto found = cells_.find(key(cell + glm::i64vec3(x, y, z)));
                    if (found == cells_.end()) continue;
                    for (const std::uint32_t c : found->second)
                        if (glm::distance(out_.places[c], p) <= tolerance_) return c;
                }
        out_.places.push_back(p);
        const auto fresh = static_cast<std::uint32_t>(out_.places.size()) - 1;
        cells_[key(cell)].push_back(fresh);
        return fresh;
    }

  private:
    static std::uint64_t key(const glm::i64vec3& c) {
        return static_cast<std::uint64_t>(c.x) * 0x9E3779B97F4A7C15ull ^ static_cast<std::uint64_t>(c.y) * 0xC2B2AE3D27D4EB4Full ^
               static_cast<std::uint64_t>(c.z) * 0x165667B19E3779F9ull;
    }
    float tolerance_;
    Topology& out_;
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> cells_;
};

std::uint32_t rootOf(std::vector<std::uint32_t>& parent, std::uint32_t f) {
    while (parent[f] != f) f = parent[f] = parent[parent[f]];
    return f;
}

/// Sides of triangles that are no side of their polygon: the other triangle of the same face goes back along them.
std::vector<Edge> outerSides(const Mesh& mesh, const Topology& topology) {
    std::unordered_map<std::uint64_t, int> within;
    std::vector<Edge> sides;
    for (std::size_t first = 0; first < mesh.faces.size();) {
        std::size_t last = first;
        while (last < mesh.faces.size() && mesh.faces[last] == mesh.faces[first]) ++last;
        within.clear();
        const auto each = [&](auto take) {
            for (std::size_t k = first * 3; k < last * 3; ++k) {
                const std::size_t t = k / 3 * 3;
                const std::uint32_t a = topology.corner[mesh.triangles[k]], b = topology.corner[mesh.triangles[t + (k + 1 - t) % 3]];
                if (a != b) take(a, b);
            }
        };
        each([&](std::uint32_t a, std::uint32_t b) { ++within[pairKey(a, b)]; });
        // Each way there that has a way back within the face goes out with it.
        each([&](std::uint32_t a, std::uint32_t b) {
            int& there = within[pairKey(a, b)];
            const auto back = within.find(pairKey(b, a));
            if (there <= (back == within.end() ? 0 : back->second)) return;
            --there;
            sides.push_back({a, b, mesh.faces[first], noFace});
        });
        first = last;
    }
    return sides;
}

}  // namespace

bool Topology::closed() const {
    return !edges.empty() && std::none_of(edges.begin(), edges.end(), [](const Edge& e) { return e.other == noFace; });
}

Topology topologyOf(const Mesh& mesh) {
    Topology out;
    const Bounds bounds = boundsOf(mesh);
    const float size = mesh.positions.empty() ? 1 : glm::length(bounds.size());
    Welder welder(std::max(size * 1e-6f, 1e-12f), out);
    out.corner.reserve(mesh.positions.size());
    for (const auto& p : mesh.positions) out.corner.push_back(welder.cornerAt(p));
    out.faces = mesh.faceCount();

    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> waiting;  // sides without a partner, by direction
    for (const Edge& side : outerSides(mesh, out)) {
        const auto back = waiting.find(pairKey(side.to, side.from));
        if (back != waiting.end() && !back->second.empty()) {
            out.edges[back->second.back()].other = side.face;
            back->second.pop_back();
            continue;
        }
        waiting[pairKey(side.from, side.to)].push_back(static_cast<std::uint32_t>(out.edges.size()));
        out.edges.push_back(side);
    }
    std::vector<std::uint32_t> parent(out.faces);
    std::iota(parent.begin(), parent.end(), 0u);
    for (const Edge& e : out.edges)
        if (e.other != noFace) {
            const std::uint32_t a = rootOf(parent, e.face), b = rootOf(parent, e.other);
            parent[std::max(a, b)] = std::min(a, b);
        }
    out.component.resize(out.faces);
    std::vector<std::uint32_t> number(out.faces, noFace);
    for (std::uint32_t f = 0; f < out.faces; ++f) {
        std::uint32_t& n = number[rootOf(parent, f)];
        if (n == noFace) n = out.components++;
        out.component[f] = n;
    }
    return out;
}

std::vector<std::vector<std::uint32_t>> facePolygons(const Mesh& mesh, const Topology& topology) {
    std::vector<std::vector<std::uint32_t>> polygons(topology.faces);
    const auto sides = outerSides(mesh, topology);
    for (std::size_t first = 0; first < sides.size();) {
        std::size_t last = first;
        std::multimap<std::uint32_t, std::uint32_t> next;
        for (; last < sides.size() && sides[last].face == sides[first].face; ++last) next.emplace(sides[last].from, sides[last].to);
        auto& longest = polygons[sides[first].face];
        while (!next.empty()) {
            std::vector<std::uint32_t> loop;
            auto step = next.begin();
            while (step != next.end()) {
                loop.push_back(step->first);
                const std::uint32_t to = step->second;
                next.erase(step);
                step = next.find(to);
            }
            if (loop.size() > longest.size()) longest = std::move(loop);
        }
        first = last;
    }
    return polygons;
}

Mesh dualOf(const Mesh& mesh) {
    const Topology topology = topologyOf(mesh);
    const auto polygons = facePolygons(mesh, topology);
    std::vector<glm::vec3> middles(polygons.size(), glm::vec3(0));
    // Around a corner, the face after (before, corner, after) is the one whose corner comes from `after`.
    std::vector<std::unordered_map<std::uint32_t, std::pair<std::uint32_t, std::uint32_t>>> around(topology.places.size());
    for (std::uint32_t f = 0; f < polygons.size(); ++f) {
        const auto& polygon = polygons[f];
        for (std::size_t i = 0; i < polygon.size(); ++i) {
            middles[f] += topology.places[polygon[i]] / static_cast<float>(polygon.size());
            const std::uint32_t before = polygon[(i + polygon.size() - 1) % polygon.size()], after = polygon[(i + 1) % polygon.size()];
            around[polygon[i]][after] = {before, f};
        }
    }
    Mesh dual;
    for (const auto& fans : around) {
        if (fans.size() < 3) continue;
        std::vector<glm::vec3> ring;
        std::uint32_t first = ~0u;
        for (const auto& [after, step] : fans) first = std::min(first, after);  // any start; the least for the same bits
        std::uint32_t at = first;
        do {
            const auto step = fans.find(at);
            if (step == fans.end() || ring.size() > fans.size()) break;
            ring.push_back(middles[step->second.second]);
            at = step->second.first;
        } while (at != first);
        if (at != first || ring.size() != fans.size()) continue;
        addFlatPolygon(dual, ring);
    }
    return dual;
}

}  // namespace gswarm
