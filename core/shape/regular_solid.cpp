// The five regular solids.
#include <array>
#include <glm/geometric.hpp>

#include "core/shape/icosahedron.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

enum class Solid { tetrahedron, cube, octahedron, dodecahedron, icosahedron };

struct RegularSolid {
    Solid solid;
    float radius;
};

using Polygons = std::vector<std::vector<glm::vec3>>;

Polygons tetrahedron() {
    const glm::vec3 a(1, 1, 1), b(1, -1, -1), c(-1, 1, -1), d(-1, -1, 1);
    return {{a, b, c}, {a, c, d}, {a, d, b}, {b, d, c}};
}
Polygons cube() {
    Polygons faces;
    for (int axis = 0; axis < 3; ++axis)
        for (const float side : {1.0f, -1.0f}) {
            const auto corner = [&](float a, float b) {
                glm::vec3 p;
                p[axis] = side;
                p[(axis + 1) % 3] = a * side;
                p[(axis + 2) % 3] = b;
                return p;
            };
            faces.push_back({corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)});
        }
    return faces;
}
Polygons octahedron() {
    Polygons faces;
    for (const float x : {1.0f, -1.0f})
        for (const float y : {1.0f, -1.0f})
            for (const float z : {1.0f, -1.0f}) {
                const glm::vec3 a(x, 0, 0), b(0, y, 0), c(0, 0, z);
                faces.push_back(x * y * z > 0 ? std::vector{a, b, c} : std::vector{a, c, b});
            }
    return faces;
}
Polygons facesOf(const Mesh& mesh) {
    Polygons faces;
    const Topology topology = topologyOf(mesh);
    for (const auto& polygon : facePolygons(mesh, topology)) {
        faces.emplace_back();
        for (const std::uint32_t c : polygon) faces.back().push_back(topology.places[c]);
    }
    return faces;
}

Mesh make(const RegularSolid& solid, int) {
    static const std::array<Polygons (*)(), 5> makers = {tetrahedron, cube, octahedron, [] { return facesOf(dualOf(geodesicSphere(1))); },
                                                         [] { return facesOf(geodesicSphere(1)); }};
    Mesh mesh;
    for (auto& face : makers[static_cast<std::size_t>(solid.solid)]()) {
        for (auto& corner : face) corner = glm::normalize(corner) * solid.radius;
        addFlatPolygon(mesh, face);
    }
    return mesh;
}

}  // namespace

const ShapeKind regularSolidShape =
    makes(DescribeShape<RegularSolid>("regularSolid", "Regular solid", "One of the five solids whose faces are all alike")
              .found("tetrahedron octahedron dodecahedron icosahedron platonic polyhedron crystal gem")
              .choice("solid", &RegularSolid::solid,
                      {{"tetrahedron", "Tetrahedron, 4 faces"},
                       {"cube", "Cube, 6 faces"},
                       {"octahedron", "Octahedron, 8 faces"},
                       {"dodecahedron", "Dodecahedron, 12 faces"},
                       {"icosahedron", "Icosahedron, 20 faces"}},
                      "Which of the five")
              .length("radius", &RegularSolid::radius, 0.5, {0.05, 4}, "From the middle to the corners")
              .hard(1e-5, 1e5),
          make);

}  // namespace gswarm
