// Tube with a wall, or a round rod where the wall fills it.
#include <algorithm>

#include "core/shape/revolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Tube {
    float radius, wall, height;
    int sides, rows;
};

Mesh make(const Tube& tube, int detail) {
    const int sides = std::max(5, tube.sides >> detail), rows = std::max(1, tube.rows >> detail);
    const float r = tube.radius, inner = std::max(0.0f, r - tube.wall), half = tube.height / 2;
    std::vector<ProfileStretch> profile = {straightStretch({inner, -half}, {r, -half}, 1), straightStretch({r, -half}, {r, half}, rows),
                                           straightStretch({r, half}, {inner, half}, 1)};
    if (inner > 0) profile.push_back(straightStretch({inner, half}, {inner, -half}, rows));
    return revolve(profile, sides);
}

}  // namespace

const ShapeKind tubeShape = makes(DescribeShape<Tube>("tube", "Tube", "A pipe, or a round rod")
                                      .found("cylinder pipe rod pillar column")
                                      .length("radius", &Tube::radius, 0.5, {0.02, 4}, "From the axis to the outside")
                                      .hard(1e-5, 1e5)
                                      .length("wall", &Tube::wall, 0.1, {0.01, 4}, "Thickness of the wall; as much as the radius fills it")
                                      .hard(1e-6, 1e5)
                                      .length("height", &Tube::height, 1, {0.05, 4}, "Along Y")
                                      .hard(1e-5, 1e5)
                                      .whole("sides", &Tube::sides, 32, {3, 128}, "Faces around")
                                      .hard(3, 2048)
                                      .whole("rows", &Tube::rows, 1, {1, 64}, "Divisions along the height")
                                      .hard(1, 2048),
                                  make);

}  // namespace gswarm
