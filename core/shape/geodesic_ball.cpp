// Geodesic ball and its dual: flat triangles, or hexagons with twelve pentagons.
#include <algorithm>
#include <glm/geometric.hpp>

#include "core/shape/icosahedron.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

enum class Facets { triangles, hexagons };

struct GeodesicBall {
    float radius;
    int frequency;
    Facets facets;
    bool smooth;
};

/// The dual of the sphere with its corners on the ball.
Mesh hexagons(int frequency) {
    Mesh dual = dualOf(geodesicSphere(frequency));
    for (auto& p : dual.positions) p = glm::normalize(p);
    return dual;
}

Mesh make(const GeodesicBall& ball, int detail) {
    const int frequency = std::max(1, ball.frequency >> detail);
    const bool triangles = ball.facets == Facets::triangles;
    const Mesh unit = triangles ? geodesicSphere(frequency) : hexagons(frequency);
    if (ball.smooth) return ballFromUnit(unit, ball.radius);
    Mesh mesh;
    const Topology topology = topologyOf(unit);
    for (const auto& polygon : facePolygons(unit, topology)) {
        std::vector<glm::vec3> corners;
        for (const std::uint32_t c : polygon) corners.push_back(topology.places[c] * ball.radius);
        addFlatPolygon(mesh, corners);
    }
    return mesh;
}

}  // namespace

const ShapeKind geodesicBallShape =
    carriedFrom(makes(DescribeShape<GeodesicBall>("geodesicBall", "Geodesic ball", "Flat triangles, or hexagons with twelve pentagons")
                          .found("sphere dome icosphere golf football")
                          .length("radius", &GeodesicBall::radius, 0.5, {0.05, 4}, "From the middle to the corners")
                          .hard(1e-5, 1e5)
                          .whole("frequency", &GeodesicBall::frequency, 3, {1, 24}, "Parts of each side of the icosahedron")
                          .hard(1, 200)
                          .choice("facets", &GeodesicBall::facets, {{"triangles", "Triangles"}, {"hexagons", "Hexagons and 12 pentagons"}},
                                  "The form of its faces")
                          .toggle("smooth", &GeodesicBall::smooth, false, "Shaded as if it were round"),
                      make),
                {{"radius", fixedNumbers({1.5})}, {"frequency", fixedNumbers({24})}, {"smooth", true}});

}  // namespace gswarm
