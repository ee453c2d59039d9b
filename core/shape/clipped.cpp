// Another shape cut by a plane, with or without a lid.
#include <glm/geometric.hpp>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/shape/outline.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

enum class Keep { above, below };

struct Clipped {
    ObjectId of;
    float height;
    float tiltX, tiltZ;
    Keep keep;
    bool lid;
};

struct Cutter {
    const Mesh& from;
    glm::vec3 normal;
    float height;
    Mesh out;
    std::unordered_map<std::uint32_t, std::uint32_t> kept;
    std::unordered_map<std::uint64_t, std::uint32_t> cut;
    std::vector<std::pair<glm::vec3, glm::vec3>> rim;  // along the cut, kept side on the left seen against the normal

    float over(std::uint32_t v) const {
        const float d = glm::dot(from.positions[v], normal) - height;
        return d == 0 ? 1e-30f : d;  // a corner on the plane is kept, so that no triangle is cut at its corner
    }
    std::uint32_t vertex(std::uint32_t v) {
        const auto [entry, fresh] = kept.try_emplace(v, static_cast<std::uint32_t>(out.positions.size()));
        if (fresh) {
            addVertex(out, from.positions[v], from.normals[v], from.uv[v]);
            if (!from.colours.empty()) out.colours.push_back(from.colours[v]);
        }
        return entry->second;
    }
    /// Where a side crosses the plane: the same from both of its ends, to the bit.
    std::uint32_t crossing(std::uint32_t a, std::uint32_t b) {
        const auto key = [](std::uint32_t x, std::uint32_t y) { return static_cast<std::uint64_t>(x) << 32 | y; };
        const auto [entry, fresh] = cut.try_emplace(a < b ? key(a, b) : key(b, a), static_cast<std::uint32_t>(out.positions.size()));
        if (!fresh) return entry->second;
        const glm::vec3 &p = from.positions[a], &q = from.positions[b];
        const bool swap = p.x != q.x ? p.x > q.x : p.y != q.y ? p.y > q.y : p.z > q.z;
        const std::uint32_t low = swap ? b : a, high = swap ? a : b;
        const float share = over(low) / (over(low) - over(high));
        const auto mixed = [share](const auto& x, const auto& y) { return x + (y - x) * share; };
        addVertex(out, mixed(from.positions[low], from.positions[high]),
                  glm::normalize(mixed(from.normals[low], from.normals[high]) + glm::vec3(1e-20f)), mixed(from.uv[low], from.uv[high]));
        if (!from.colours.empty()) out.colours.push_back(mixed(from.colours[low], from.colours[high]));
        return entry->second;
    }
    void run() {
        std::uint32_t lastFace = noFace;
        for (std::size_t t = 0; t < from.triangles.size(); t += 3) {
            const std::uint32_t* v = &from.triangles[t];
            std::vector<std::uint32_t> polygon;
            std::uint32_t leaving = noFace, entering = noFace;
            for (int k = 0; k < 3; ++k) {
                const std::uint32_t a = v[k], b = v[(k + 1) % 3];
                if (over(a) > 0) polygon.push_back(vertex(a));
                if ((over(a) > 0) == (over(b) > 0)) continue;
                polygon.push_back(crossing(a, b));
                (over(a) > 0 ? leaving : entering) = polygon.back();
            }
            if (polygon.size() < 3) continue;
            const bool sameFace = lastFace == from.faces[t / 3] && !out.faces.empty();
            lastFace = from.faces[t / 3];
            const std::uint32_t face = sameFace ? out.faces.back() : out.faceCount();
            for (std::size_t k = 1; k + 1 < polygon.size(); ++k) {
                out.triangles.insert(out.triangles.end(), {polygon[0], polygon[k], polygon[k + 1]});
                out.faces.push_back(face);
            }
            if (leaving != noFace && entering != noFace) rim.emplace_back(out.positions[entering], out.positions[leaving]);
        }
    }
};

/// The rim's loops as a flat face against the normal. Loops within loops are holes.
void addLid(Mesh& mesh, const std::vector<std::pair<glm::vec3, glm::vec3>>& rim, const glm::vec3& normal) {
    const glm::vec3 away = -normal, side = std::abs(away.y) < 0.9f ? glm::vec3(0, 1, 0) : glm::vec3(1, 0, 0);
    const glm::vec3 u = glm::normalize(glm::cross(side, away)), v = glm::cross(away, u);
    // Rim places are welded as corners of a mesh of slivers, which gives the loops their exact corners.
    Mesh places;
    for (const auto& [a, b] : rim) addVertex(places, a, {}, {}), addVertex(places, b, {}, {});
    const Topology topology = topologyOf(places);
    std::unordered_multimap<std::uint32_t, std::uint32_t> next;
    for (std::size_t i = 0; i < rim.size(); ++i)
        if (topology.corner[2 * i] != topology.corner[2 * i + 1]) next.emplace(topology.corner[2 * i], topology.corner[2 * i + 1]);
    FlatContours loops;
    std::vector<std::uint32_t> corners;
    while (!next.empty()) {
        auto step = next.begin();
        loops.emplace_back();
        while (step != next.end()) {
            const glm::vec3& p = topology.places[step->first];
            loops.back().emplace_back(glm::dot(p, u), glm::dot(p, v));
            corners.push_back(step->first);
            const std::uint32_t to = step->second;
            next.erase(step);
            step = next.find(to);
        }
    }
    const auto triangles = fillPolygons(loops);
    const std::uint32_t face = mesh.faceCount();
    std::vector<std::uint32_t> made;
    for (std::size_t i = 0, loop = 0, in = 0; i < corners.size(); ++i) {
        while (in == loops[loop].size()) ++loop, in = 0;
        made.push_back(addVertex(mesh, topology.places[corners[i]], away, glm::vec2(loops[loop][in++])));
        if (!mesh.colours.empty()) mesh.colours.emplace_back(1);
    }
    for (const std::uint32_t t : triangles) mesh.triangles.push_back(made[t]);
    mesh.faces.insert(mesh.faces.end(), triangles.size() / 3, face);
}

ShapeForm make(const Clipped& c, const ShapeSource& source) {
    if (!c.of) throw Error("Choose the shape that is cut.");
    const auto shape = source.shape(c.of);
    const auto x = precise::sineCosine(c.tiltX), z = precise::sineCosine(c.tiltZ);
    const float side = c.keep == Keep::above ? 1.0f : -1.0f;
    const glm::vec3 normal = glm::vec3(-z.sine * x.cosine, z.cosine * x.cosine, x.sine) * side;
    Cutter cutter{shape->mesh(), normal, c.height * side, {}, {}, {}, {}};
    cutter.run();
    if (cutter.out.triangles.empty()) throw Error("The plane leaves nothing of it; move the cut.");
    if (c.lid && !cutter.rim.empty()) addLid(cutter.out, cutter.rim, normal);
    return {std::move(cutter.out), {}, {}};
}

}  // namespace

const ShapeKind clippedShape =
    makes(DescribeShape<Clipped>("clipped", "Cut shape", "Another shape, cut by a plane")
              .found("cut slice section half trim")
              .reference("of", &Clipped::of, {ObjectType::shape}, "The shape that is cut")
              .label("Shape")
              .length("height", &Clipped::height, 0, {-4, 4}, "Of the plane, along its own upright")
              .angle("tiltX", &Clipped::tiltX, 0, {-180, 180}, "Turns the plane about X")
              .label("Tilt about X")
              .angle("tiltZ", &Clipped::tiltZ, 0, {-180, 180}, "Turns the plane about Z, after X")
              .label("Tilt about Z")
              .choice("keep", &Clipped::keep, {{"above", "What is above"}, {"below", "What is below"}}, "Which part stays")
              .toggle("lid", &Clipped::lid, true, "Closes the cut with a flat face")
              .migrated({2, {{"tilt.x", "tiltX"}, {"tilt.z", "tiltZ"}}, nullptr}),
          make);

}  // namespace gswarm
