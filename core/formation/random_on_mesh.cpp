// Instances at random on a mesh, uniform by area. The id is the dart's number, so raising the count keeps all.

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

struct RandomOnMesh {
    ObjectId shape;
    int count, seed;
};

constexpr std::uint64_t dartsAnInstance = 64;

double count(const RandomOnMesh& r, const FormationSource&) { return r.count; }

SurfacePoints thrown(const RandomOnMesh& r, const Mesh& mesh, const FormationSource& source) {
    const auto seed = static_cast<std::uint32_t>(r.seed);
    const SurfaceDarts darts(mesh, seed);
    if (!source.density) {  // every dart lands
        SurfacePoints points(static_cast<std::size_t>(r.count));
        forRanges(points.size(), 8192, [&](std::size_t begin, std::size_t end) {
            for (std::size_t n = begin; n < end; ++n) points[n] = darts.dart(n);
        });
        return points;
    }
    SurfacePoints points;
    points.reserve(static_cast<std::size_t>(r.count));
    const std::uint64_t most = dartsAnInstance * static_cast<std::uint64_t>(r.count);
    for (std::uint64_t n = 0; n < most && points.size() < static_cast<std::size_t>(r.count); ++n) {
        if (n % 65536 == 0) source.check(), source.report(static_cast<double>(points.size()) / r.count);
        const SurfacePoint point = darts.dart(n);
        const glm::vec3 place = placeOn(mesh, point);
        float weight = 0;
        source.density({&place, 1}, &weight);
        if (chance(seed, n, 4) >= weight) continue;
        points.push_back(point);
    }
    return points;
}

Homes make(const RandomOnMesh& r, const FormationSource& source) {
    const CarriedMesh carried = carriedMesh(r.shape, source);
    if (carried.rest == carried.now) return homesOn(carried.now->mesh(), thrown(r, carried.now->mesh(), source));
    ContentHash key;
    for (const std::uint64_t part : {carried.rest->hash, std::uint64_t(r.count), std::uint64_t(r.seed)}) key.add(part);
    if (source.density) return homesOn(carried.now->mesh(), thrown(r, carried.rest->mesh(), source));
    return homesOn(carried.now->mesh(), *source.kept(key.value(), [&] { return thrown(r, carried.rest->mesh(), source); }));
}

FormationKind byDensity(FormationKind kind) {
    kind.drawsByDensity = true;
    return kind;
}

}  // namespace

const FormationKind randomOnMeshFormation =
    sampled(byDensity(stores(DescribeFormation<RandomOnMesh>("randomOnMesh", "Random on a mesh", "Strewn at random over a surface")
                                 .found("scatter surface strew sprinkle hair")
                                 .reference("shape", &RandomOnMesh::shape, {ObjectType::shape}, "The surface they stand on")
                                 .needs(Needs::surface)
                                 .whole("count", &RandomOnMesh::count, 400, {1, 4000}, "How many instances")
                                 .hard(1, 1e9)
                                 .whole("seed", &RandomOnMesh::seed, 1, {1, 100}, "Another seed, other places")
                                 .hard(0, 1e9),
                             count, make)),
            {{"count", fixedNumbers({90})}});

}  // namespace gswarm
