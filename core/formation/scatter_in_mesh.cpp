// Instances inside a closed mesh: at random, or no two nearer than a distance.
#include <algorithm>
#include <cmath>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/formation/spaced_points.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"
#include "core/shape/inside.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class Scatter { random, even };

struct ScatterInMesh {
    ObjectId shape;
    Scatter scatter;
    int count, seed;
    float distance;
};

/// About this share of the volume is taken by balls of half the distance once no more fit.
constexpr double packedShare = 0.36;

const Mesh& filledMesh(const ScatterInMesh& s, const FormationSource& source, std::shared_ptr<const ShapeMeshes>& keep) {
    if (!s.shape) throw Error("Choose the closed shape to fill.");
    keep = source.shape(s.shape);
    return meshOf(keep);
}

double count(const ScatterInMesh& s, const FormationSource& source) {
    if (s.scatter == Scatter::random) return s.count;
    std::shared_ptr<const ShapeMeshes> keep;
    return std::max(1.0, std::floor(packedShare * volumeOf(filledMesh(s, source, keep)) / (0.5235988 * std::pow(double(s.distance), 3))));
}

Homes make(const ScatterInMesh& s, const FormationSource& source) {
    std::shared_ptr<const ShapeMeshes> keep;
    const Mesh& mesh = filledMesh(s, source, keep);
    const InsideTest inside(mesh);
    const Bounds bounds = boundsOf(mesh);
    const glm::vec3 size = bounds.size();
    const bool even = s.scatter == Scatter::even;
    const double box = double(size.x) * size.y * size.z, share = std::clamp(volumeOf(mesh) / std::max(box, 1e-30), 1e-4, 1.0);
    const double expected = count(s, source);
    const auto wanted = even ? static_cast<std::size_t>(mostInstances) : static_cast<std::size_t>(s.count);
    // Random needs a few darts for each instance, even ones many: the last gaps are found rarely.
    const auto most = static_cast<std::uint64_t>((even ? 60 : 64) * expected / share) + 1000;
    const auto seed = static_cast<std::uint32_t>(s.seed);
    SpacedPoints spaced(even ? s.distance : 1, even ? static_cast<std::size_t>(std::min(expected, 2e7)) : 1);
    Homes homes;
    for (std::uint64_t n = 0; n < most && homes.count() < wanted; ++n) {
        if (n % 16384 == 0) source.check(), source.report(even ? double(n) / double(most) : double(homes.count()) / double(wanted));
        const glm::vec3 place = bounds.low + size * glm::vec3(chance(seed, n, 0), chance(seed, n, 1), chance(seed, n, 2));
        if (even && !spaced.fits(place)) continue;
        if (!inside(place)) continue;
        if (even) spaced.add(place);  // also where the density then leaves it out, so that the others stay
        if (source.density) {
            float weight = 0;
            source.density({&place, 1}, &weight);
            if (chance(seed, n, 4) >= weight) continue;
        }
        homes.add(place, n);
    }
    if (homes.count() == 0) throw Error("No place inside the shape was found; choose a shape that is closed.");
    return homes;
}

Spacing spacing(const ScatterInMesh& s) { return s.scatter == Scatter::even ? Spacing{{}, s.distance, false} : Spacing{}; }

FormationKind byDensity(FormationKind kind) {
    kind.drawsByDensity = true;
    return kind;
}

}  // namespace

const FormationKind scatterInMeshFormation = fittedBy(
    sampled(byDensity(guessed(stores(
                DescribeFormation<ScatterInMesh>("scatterInMesh", "Inside a mesh", "Inside a closed shape at random, or evenly spaced")
                    .found("volume fill inside scatter random")
                    .reference("shape", &ScatterInMesh::shape, {ObjectType::shape}, "The closed shape that is filled")
                    .needs(Needs::closedMesh)
                    .choice("scatter", &ScatterInMesh::scatter, {{"random", "Random"}, {"even", "Evenly spaced"}},
                            "At random, or with a distance kept")
                    .whole("count", &ScatterInMesh::count, 400, {1, 4000}, "How many instances")
                    .hard(1, 1e9)
                    .only("scatter", {"random"})
                    .length("distance", &ScatterInMesh::distance, 0.3, {0.05, 2}, "No two nearer than this; nearly as many as fit")
                    .hard(1e-4, 1e5)
                    .only("scatter", {"even"})
                    .whole("seed", &ScatterInMesh::seed, 1, {1, 100}, "Another seed, other places")
                    .hard(0, 1e9),
                count, make, spacing))),
            {{"count", fixedNumbers({90})}, {"distance", fixedNumbers({0.75})}}),
    "distance");

}  // namespace gswarm
