#pragma once
#include <filesystem>
#include <functional>

#include "core/base/progress.h"
#include "core/flow/plan.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// Throws Error if the swarm has more instances than may be, nothing to repeat, or a shape that can't be made. What
/// only a card lacks makes that card wait.
Plan prepare(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);

/// A zone's state at a frame.
ZoneState zoneStateAt(const Scene& scene, const Object& zone, double frame, Store& store);

/// Calls `take` with what a swarm remembers at each whole frame of the range, and the key of all that it depends on, from the frame
/// before the first on where there is something; made where it is not known. Nothing of a swarm that remembers nothing.
void eachRemembered(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store, Progress& progress,
                    const std::function<void(int frame, std::uint64_t key, const MemoryState&)>& take);

/// Makes the next frame of the range that is not known, if there is one.
void makeNextFrame(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store, Progress& progress);

}  // namespace gswarm
