// Balls packed as closely as can be: layers of hexagons in each other's hollows.
#include <array>
#include <cmath>

#include "core/formation/formation_kind.h"

namespace gswarm {
namespace {

enum class Layers { abc, ab };

struct ClosePacking {
    glm::ivec3 count;
    float spacing;
    Layers layers;
};

constexpr double rowStep = 0.86602540378443865, layerStep = 0.81649658092772603, hollow = 0.28867513459481288;

double count(const ClosePacking& p) { return double(p.count.x) * p.count.y * p.count.z; }

/// In spacings, from the lattice's anchor.
glm::dvec3 latticePlace(const ClosePacking& p, int x, int y, int z) {
    const int shift = p.layers == Layers::ab ? y & 1 : ((y % 3) + 3) % 3;
    const double row = z + (shift ? shift * hollow / rowStep : 0);
    return {x + 0.5 * (z & 1) + 0.5 * shift, y * layerStep, row * rowStep};
}

void place(const ClosePacking& p, const HomeRange& range, HomeColumns& out) {
    const glm::ivec3 middle = p.count / 2;
    for (int i = 0; i < range.count; ++i) {
        const int n = range.first + i, x = n % p.count.x - middle.x, z = n / p.count.x % p.count.z - middle.z,
                  y = n / p.count.x / p.count.z - middle.y;
        setHome(out, i, glm::vec3(latticePlace(p, x, y, z) * double(p.spacing)), {1, 0, 0, 0}, 1, latticeId(x, y, z));
    }
}

/// The twelve nearest, as the places of the lattice around an even row tell them; rows and layers mirror each other.
Spacing spacing(const ClosePacking& p) {
    Spacing out;
    for (int shift = 0; shift < 6; ++shift)
        for (int dx = -2; dx <= 2; ++dx)
            for (int dy = -1; dy <= 1; ++dy)
                for (int dz = -2; dz <= 2; ++dz) {
                    const int y = shift / 2, z = shift % 2;
                    const glm::dvec3 d = latticePlace(p, dx, y + dy, z + dz) - latticePlace(p, 0, y, z);
                    if (std::abs(glm::dot(d, d) - 1) < 1e-6) out.neighbours.push_back({glm::vec3(d * double(p.spacing)), {1, 0, 0, 0}, 1});
                }
    return out;
}

}  // namespace

const FormationKind closePackingFormation =
    sampled(makes(DescribeFormation<ClosePacking>("closePacking", "Close packing", "Stacked like balls, each in the hollows below")
                      .found("balls pile stack lattice dense")
                      .wholes("count", &ClosePacking::count, {8, 4, 8}, {1, 100}, "How many along X, Y and Z")
                      .hard(1, 1e6)
                      .length("spacing", &ClosePacking::spacing, 1.1, {0.05, 4}, "From each to its twelve neighbours")
                      .hard(0, 1e5)
                      .choice("layers", &ClosePacking::layers, {{"abc", "Every third layer alike"}, {"ab", "Every second layer alike"}},
                              "How the layers lie on each other"),
                  count, place, spacing),
            {{"count", fixedNumbers({5, 3, 5})}});

}  // namespace gswarm
