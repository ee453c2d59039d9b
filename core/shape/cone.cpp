// Cone, pointed or cut off.
#include <algorithm>

#include "core/shape/revolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Cone {
    float radius, topRadius, height;
    int sides, rows;
};

Mesh make(const Cone& cone, int detail) {
    const int sides = std::max(3, cone.sides >> detail), rows = std::max(1, cone.rows >> detail);
    const float half = cone.height / 2;
    std::vector<ProfileStretch> profile;
    if (cone.radius > 0) profile.push_back(straightStretch({0, -half}, {cone.radius, -half}, 1));
    profile.push_back(straightStretch({cone.radius, -half}, {cone.topRadius, half}, rows));
    if (cone.topRadius > 0) profile.push_back(straightStretch({cone.topRadius, half}, {0, half}, 1));
    return revolve(profile, sides);
}

}  // namespace

const ShapeKind coneShape = makes(DescribeShape<Cone>("cone", "Cone", "A cone, pointed or cut off")
                                      .found("pyramid spike funnel thorn")
                                      .length("radius", &Cone::radius, 0.5, {0, 4}, "At the foot")
                                      .hard(0, 1e5)
                                      .length("topRadius", &Cone::topRadius, 0, {0, 4}, "At the top; 0 is a point")
                                      .hard(0, 1e5)
                                      .length("height", &Cone::height, 1, {0.05, 4}, "Along Y")
                                      .hard(1e-5, 1e5)
                                      .whole("sides", &Cone::sides, 32, {3, 128}, "Faces around")
                                      .hard(3, 2048)
                                      .whole("rows", &Cone::rows, 1, {1, 64}, "Divisions along the height")
                                      .hard(1, 2048),
                                  make);

}  // namespace gswarm
