#pragma once
#include <cstdint>
#include <memory>

#include "core/base/content_hash.h"
#include "core/base/world_pose.h"
#include "core/prepare/prepare.h"
#include "core/scene/rail_source.h"
#include "core/shape/homes.h"

namespace gswarm {

/// Where the shown instances of a swarm are in the world, and a hash of all that this depends on; 0 where that can't be told.
struct InstancesShown {
    std::shared_ptr<const Homes> homes;
    std::uint64_t hash = 0;
};

/// The one way to another swarm's instances: for formations that stand on them, patterns, zones and gestures. Kept in the store
/// by the hash. Throws Error if the swarm was deleted or shows none at this frame.
InstancesShown instancesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store,
                              Progress& progress);

/// What it shows there: the shapes of the stock, lights left out. Throws Error as instancesShown does.
ShownShapes shapesShown(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);

/// Takes a pose into a hash.
void addPose(ContentHash& hash, const WorldPose& pose);

}  // namespace gswarm
