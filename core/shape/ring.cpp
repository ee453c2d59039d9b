// Ring with a round section (a torus).
#include <algorithm>

#include "core/base/precise.h"
#include "core/shape/revolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Ring {
    float radius, thickness;
    int sides, steps;
};

Mesh make(const Ring& ring, int detail) {
    const int sides = std::max(6, ring.sides >> detail), steps = std::max(4, ring.steps >> detail);
    const float section = std::min(ring.thickness * 0.5f, ring.radius * 0.999f);
    ProfileStretch profile;
    for (int k = 0; k <= steps; ++k) {
        const auto turn = precise::sineCosineOfTurns(double(k % steps) / steps);
        const glm::vec2 normal(turn.cosine, turn.sine);
        profile.push_back({glm::vec2(ring.radius, 0) + normal * section, normal});
    }
    return revolve({profile}, sides);
}

}  // namespace

const ShapeKind ringShape = makes(DescribeShape<Ring>("ring", "Ring", "A ring with a round section")
                                      .found("torus doughnut hoop washer")
                                      .length("radius", &Ring::radius, 0.5, {0.05, 4}, "From the middle to the middle of the section")
                                      .hard(1e-5, 1e5)
                                      .length("thickness", &Ring::thickness, 0.25, {0.01, 2}, "Of the section")
                                      .hard(1e-6, 1e5)
                                      .whole("sides", &Ring::sides, 48, {6, 128}, "Faces around")
                                      .hard(6, 2048)
                                      .whole("steps", &Ring::steps, 16, {4, 64}, "Faces around the section")
                                      .hard(4, 512),
                                  make);

}  // namespace gswarm
