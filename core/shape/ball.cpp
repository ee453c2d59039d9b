// Ball of rings and sides, of an icosahedron's triangles, or of a cube's squares.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/precise.h"
#include "core/shape/icosahedron.h"
#include "core/shape/revolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class BallBy { rings, triangles, squares };

struct Ball {
    float radius;
    BallBy by;
    int sides, rings, divisions;
};

Mesh ofRings(const Ball& ball, int sides, int rings) {
    ProfileStretch profile;
    for (int r = 0; r <= rings; ++r) {  // from the bottom, so that outside lies to the right
        const auto down = precise::sineCosineOfTurns(0.5 - 0.5 * r / rings);
        const glm::vec2 normal(r == 0 || r == rings ? 0 : down.sine, down.cosine);
        profile.push_back({normal * ball.radius, normal});
    }
    return revolve({profile}, sides);
}

/// Six sides whose lines stand at equal angles, pushed out to the ball.
Mesh ofSquares(float radius, int divisions) {
    Mesh mesh;
    for (int axis = 0; axis < 3; ++axis)
        for (const double side : {1.0, -1.0}) {
            const auto first = static_cast<std::uint32_t>(mesh.positions.size());
            const auto line = [&](int k) {  // odd about the middle, so that sides meet to the bit
                const auto turn = precise::sineCosineOfTurns((2.0 * k / divisions - 1) / 8);
                return 2 * k == divisions ? 0 : k == 0 ? -1 : k == divisions ? 1 : turn.sine / turn.cosine;
            };
            for (int b = 0; b <= divisions; ++b)
                for (int a = 0; a <= divisions; ++a) {
                    glm::dvec3 p(0);
                    p[axis] = side;
                    p[(axis + 1) % 3] = line(a) * side;
                    p[(axis + 2) % 3] = line(b);
                    // Squares in an order that doesn't depend on the side.
                    const double length = std::sqrt(p.x * p.x + p.y * p.y + p.z * p.z);
                    const glm::vec3 normal(p / length);
                    addVertex(mesh, normal * radius, normal, glm::vec2(a, b) / static_cast<float>(divisions));
                }
            addGridFaces(mesh, first, divisions, divisions);
        }
    return mesh;
}

Mesh make(const Ball& ball, int detail) {
    switch (ball.by) {
        case BallBy::triangles:
            return ballFromUnit(geodesicSphere(std::max(1, ball.divisions >> detail)), ball.radius);
        case BallBy::squares:
            return ofSquares(ball.radius, std::max(1, ball.divisions >> detail));
        default:
            return ofRings(ball, std::max(6, ball.sides >> detail), std::max(4, ball.rings >> detail));
    }
}

}  // namespace

const ShapeKind ballShape =
    carriedFrom(makes(DescribeShape<Ball>("ball", "Ball", "A ball of rings, triangles or squares")
                          .found("sphere globe orb bead bubble")
                          .length("radius", &Ball::radius, 0.5, {0.05, 4}, "From the middle to the surface")
                          .hard(1e-5, 1e5)
                          .choice("by", &Ball::by, {{"rings", "Rings and sides"}, {"triangles", "Triangles"}, {"squares", "Squares"}},
                                  "What its surface is divided into")
                          .label("Made of")
                          .whole("sides", &Ball::sides, 32, {6, 128}, "Faces around")
                          .hard(6, 2048)
                          .only("by", {"rings"})
                          .whole("rings", &Ball::rings, 16, {4, 64}, "Faces from pole to pole")
                          .hard(4, 1024)
                          .only("by", {"rings"})
                          .whole("divisions", &Ball::divisions, 8, {1, 32}, "Parts of each side of the icosahedron or the cube")
                          .hard(1, 256)
                          .only("by", {"triangles", "squares"}),
                      make),
                {{"radius", fixedNumbers({1.5})}, {"by", std::string("squares")}, {"divisions", fixedNumbers({32})}});

}  // namespace gswarm
