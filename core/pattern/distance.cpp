// How far instances are from a shape or from another swarm.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/pattern/pattern_kind.h"
#include "core/shape/homes.h"
#include "core/shape/nearest.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class DistanceTo { curve, surface, points, swarm };
enum class DistanceAs { share, capped, metres };

struct Distance {
    DistanceTo to;
    ObjectId shape, swarm;
    DistanceAs as;
    float reach;
    std::shared_ptr<const NearestTree> tree;
};

NearestTree treeOf(const Distance& pattern, const ShapeMeshes& shape) {
    if (pattern.to == DistanceTo::curve) return NearestTree::ofCurves(shape.curves);
    if (pattern.to == DistanceTo::surface) return NearestTree::ofMesh(shape.mesh());
    if (shape.mesh().positions.empty() || !shape.curves.empty()) {
        std::vector<glm::vec3> points;
        for (const Curve& curve : shape.curves) points.insert(points.end(), curve.points.begin(), curve.points.end());
        return NearestTree::ofPoints(points);
    }
    return NearestTree::ofPoints(shape.mesh().positions);
}

/// Where the instances of the other swarm are, as this one sees them.
NearestTree treeOf(const Homes& instances, const WorldPose& own) {
    std::vector<glm::vec3> points = placesOf(instances);
    for (glm::vec3& p : points) p = own.fromWorld(p);
    return NearestTree::ofPoints(points);
}

void prepare(Distance& pattern, const RailSource& source) {
    if (pattern.to == DistanceTo::swarm) {
        pattern.tree = std::make_shared<const NearestTree>(treeOf(*source.instances(pattern.swarm), source.swarm));
        return;
    }
    const auto shape = source.shape(pattern.shape);
    ContentHash key;
    key.add("distance");
    key.add(shape->hash);
    key.add(static_cast<std::uint64_t>(pattern.to));
    pattern.tree = source.keptAs<NearestTree>(key.value(), shape->mesh().triangleCount() * 100, [&] { return treeOf(pattern, *shape); });
    if (pattern.tree->empty())
        throw Error(pattern.to == DistanceTo::curve
                        ? "The shape it measures to has no curve; choose another one, or measure to its surface."
                        : "The shape it measures to is empty; choose another one.");
}

void fill(const Distance& pattern, const PatternInput& in, Columns3& out) {
    const bool limited = pattern.as != DistanceAs::metres;
    const float reach = limited ? pattern.reach : 1e30f;
    const float scale = pattern.as == DistanceAs::share ? 1 / std::max(pattern.reach, 1e-6f) : 1;
    const int padded = paddedCount(in.block);
    for (int i = 0; i < in.block.count; ++i)
        out.x[i] = pattern.tree->nearest({in.place.x[i], in.place.y[i], in.place.z[i]}, reach).distance * scale;
    std::fill(out.x + in.block.count, out.x + padded, 0.0f);
}

}  // namespace

namespace {

PatternKind distanceKind() {
    PatternKind kind = preparing(
        makes(DescribePattern<Distance>("distance", "Distance", "Grows away from a curve, a surface, points or another swarm")
                  .found("falloff proximity near far")
                  .choice("to", &Distance::to,
                          {{"curve", "To a curve"}, {"surface", "To a surface"}, {"points", "To points"}, {"swarm", "To a swarm"}},
                          "What it is measured to; shapes lie where the swarm stands")
                  .label("Measured")
                  .reference("shape", &Distance::shape, {ObjectType::shape}, "The shape")
                  .only("to", {"curve", "surface", "points"})
                  .reference("swarm", &Distance::swarm, {ObjectType::swarm}, "The swarm whose instances it is measured to")
                  .only("to", {"swarm"})
                  .choice("as", &Distance::as, {{"share", "0 to 1"}, {"capped", "Metres, capped"}, {"metres", "Metres"}},
                          "0 to 1: 0 where it is, 1 from the reach on")
                  .label("Value")
                  .length("reach", &Distance::reach, 3, {0.1, 20}, "Beyond this nothing grows any more")
                  .hard(1e-3, 1e6)
                  .only("as", {"share", "capped"}),
              PatternRange::zeroToOne, oneComponent<Distance>, fill),
        prepare);
    kind.needs = [](const Part& part) { return choiceOf(part, "to") == "curve" ? Needs::curve : Needs::surface; };
    return kind;
}

}  // namespace

const PatternKind distancePattern = distanceKind();

}  // namespace gswarm
