// A shell of another shape: its surface twice, some way apart, with walls along its rims.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

enum class ThickenedTo { inward, outward, both };

struct Thickened {
    ObjectId of;
    float thickness;
    ThickenedTo to;
    float crease;
};

/// How far each corner goes for a metre of thickness: along the mean of the planes around it, so much farther that flat faces are as
/// thick as they should be, up to four times at very sharp corners.
std::vector<glm::vec3> waysOf(const Mesh& mesh, const Topology& topology) {
    std::vector<glm::vec3> sum(topology.places.size(), glm::vec3(0));
    std::vector<glm::vec3> normals(mesh.triangleCount(), glm::vec3(0));
    const auto corner = [&](std::size_t t, int k) { return topology.corner[mesh.triangles[3 * t + static_cast<std::size_t>(k)]]; };
    for (std::size_t t = 0; t < normals.size(); ++t) {
        const glm::vec3 p[3] = {topology.places[corner(t, 0)], topology.places[corner(t, 1)], topology.places[corner(t, 2)]};
        const glm::vec3 across = glm::cross(p[1] - p[0], p[2] - p[0]);
        const float area = glm::length(across);
        if (!(area > 0)) continue;
        normals[t] = across / area;
        for (int k = 0; k < 3; ++k) {
            const glm::vec3 a = p[(k + 1) % 3] - p[k], b = p[(k + 2) % 3] - p[k];
            sum[corner(t, k)] += normals[t] * std::acos(std::clamp(glm::dot(glm::normalize(a), glm::normalize(b)), -1.0f, 1.0f));
        }
    }
    for (glm::vec3& way : sum)
        if (const float length = glm::length(way); length > 0) way /= length;
    std::vector<float> least(sum.size(), 1);
    for (std::size_t t = 0; t < normals.size(); ++t)
        for (int k = 0; k < 3; ++k)
            if (normals[t] != glm::vec3(0)) least[corner(t, k)] = std::min(least[corner(t, k)], glm::dot(normals[t], sum[corner(t, k)]));
    constexpr float sharpest = 0.25f;
    for (std::size_t c = 0; c < sum.size(); ++c) sum[c] /= std::max(least[c], sharpest);
    return sum;
}

void addSheet(Mesh& to, const Mesh& from, const Topology& topology, const std::vector<glm::vec3>& ways, float distance, bool turned) {
    Mesh sheet = from;
    for (std::size_t v = 0; v < sheet.positions.size(); ++v)
        sheet.positions[v] = topology.places[topology.corner[v]] + ways[topology.corner[v]] * distance;
    if (turned)
        for (std::size_t t = 0; t + 2 < sheet.triangles.size(); t += 3) std::swap(sheet.triangles[t + 1], sheet.triangles[t + 2]);
    append(to, sheet);
}

ShapeForm make(const Thickened& thickened, const ShapeSource& source) {
    if (!thickened.of) throw Error("Choose the shape that gets a thickness.");
    const auto from = source.shape(thickened.of);
    const Mesh& mesh = from->mesh();
    if (mesh.triangles.empty()) throw Error("The shape has no surface that could get a thickness.");
    const Topology topology = topologyOf(mesh);
    const auto ways = waysOf(mesh, topology);
    const float t = thickened.thickness;
    const float outer = thickened.to == ThickenedTo::inward ? 0 : thickened.to == ThickenedTo::outward ? t : t / 2;
    Mesh shell;
    addSheet(shell, mesh, topology, ways, outer, false);
    addSheet(shell, mesh, topology, ways, outer - t, true);
    for (const Edge& edge : topology.edges) {
        if (edge.other != noFace) continue;
        const auto at = [&](std::uint32_t corner, float distance) { return topology.places[corner] + ways[corner] * distance; };
        const float length = glm::distance(topology.places[edge.from], topology.places[edge.to]);
        // Seen from outside the surface lies to the left of its rim: the wall goes back along it.
        const std::uint32_t a = addVertex(shell, at(edge.to, outer), {0, 1, 0}, {0, 0}),
                            b = addVertex(shell, at(edge.from, outer), {0, 1, 0}, {length, 0}),
                            c = addVertex(shell, at(edge.from, outer - t), {0, 1, 0}, {length, t}),
                            d = addVertex(shell, at(edge.to, outer - t), {0, 1, 0}, {0, t});
        addFace(shell, {a, b, c, a, c, d});
    }
    return {withNormals(shell, thickened.crease), {}, {}};
}

}  // namespace

const ShapeKind thickenedShape =
    makes(DescribeShape<Thickened>("thickened", "Thickened", "A shell of another shape, with walls along its rims")
              .found("shell solidify thickness offset hollow wall extrude")
              .reference("of", &Thickened::of, {ObjectType::shape}, "The shape that gets a thickness")
              .label("Shape")
              .needs(Needs::surface)
              .length("thickness", &Thickened::thickness, 0.1, {0.005, 1}, "From one side to the other")
              .hard(1e-6, 1e5)
              .choice("to", &Thickened::to, {{"inward", "Inward"}, {"outward", "Outward"}, {"both", "Half to either side"}},
                      "Where the thickness lies from the surface as it was")
              .label("Lies")
              .number("crease", &Thickened::crease, 40, {0, 180}, "Edges sharper than this stay sharp")
              .unit("°")
              .hard(0, 180),
          make);

}  // namespace gswarm
