// Flat disc that lies in XZ and faces up, with or without a hole.
#include <algorithm>

#include "core/shape/revolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Disc {
    float radius, hole;
    int sides, rings;
};

Mesh make(const Disc& disc, int detail) {
    const float hole = std::min(disc.hole, disc.radius * 0.999f);
    return revolve({straightStretch({disc.radius, 0}, {hole, 0}, std::max(1, disc.rings >> detail))}, std::max(5, disc.sides >> detail));
}

}  // namespace

const ShapeKind discShape = withoutInside(makes(DescribeShape<Disc>("disc", "Disc", "A flat disc, with or without a hole")
                                                    .found("plate coin circle round flat")
                                                    .length("radius", &Disc::radius, 0.5, {0.05, 4}, "From the middle to the rim")
                                                    .hard(1e-5, 1e5)
                                                    .length("hole", &Disc::hole, 0, {0, 4}, "Radius of the hole")
                                                    .hard(0, 1e5)
                                                    .whole("sides", &Disc::sides, 48, {3, 128}, "Faces around")
                                                    .hard(3, 2048)
                                                    .whole("rings", &Disc::rings, 1, {1, 32}, "Divisions from the rim inward")
                                                    .hard(1, 1024),
                                                make));

}  // namespace gswarm
