// Helix about Y.
#include "core/base/precise.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Helix {
    float radius, topRadius, height, turns;
    float thickness;
    int steps, sides;
};

Curve make(const Helix& helix, int steps) {
    Curve curve;
    for (int k = 0; k <= steps; ++k) {
        const double share = double(k) / steps;
        const auto turn = precise::sineCosineOfTurns(share * helix.turns);
        const double radius = helix.radius + (double(helix.topRadius) - helix.radius) * share;
        curve.points.emplace_back(radius * turn.sine, share * helix.height, radius * turn.cosine);
    }
    return curve;
}

}  // namespace

const ShapeKind helixShape = makesCurve(DescribeShape<Helix>("helix", "Helix", "A line that winds upward")
                                            .found("spiral coil screw spring curve")
                                            .length("radius", &Helix::radius, 1, {0.1, 10}, "At the foot")
                                            .hard(0, 1e5)
                                            .length("topRadius", &Helix::topRadius, 1, {0, 10}, "At the top")
                                            .hard(0, 1e5)
                                            .length("height", &Helix::height, 3, {0, 10}, "From foot to top")
                                            .hard(-1e5, 1e5)
                                            .number("turns", &Helix::turns, 3, {-10, 10}, "How often it winds around")
                                            .hard(-1000, 1000),
                                        make);

}  // namespace gswarm
