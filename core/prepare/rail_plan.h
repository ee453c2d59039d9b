#pragma once
#include "core/prepare/prepare.h"
#include "core/provide/store.h"

namespace gswarm {

/// What patterns, zones and gestures of a swarm may ask for, at one frame. It refers to the scene, the store and the
/// progress, which must outlive it.
RailSource railSourceOf(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);
/// Which of the swarm's named values it is; under what several swarms share, the one that is called the same. −1 if none is.
int namedColumn(const Scene& scene, ObjectId swarm, ObjectId namedValue);

/// One card of the rail; `hash` takes in all it depends on. A card that lacks something waits. `ownTime`: earlier cards
/// shift the instances' time by up to `shiftFrames`.
Card prepareCard(const Scene& scene, const Object& railEntry, const PlanOptions& options, RailSource& source, Store& store,
                 double shiftFrames);

/// A plan as prepare() makes it, with a memory that is known.
Plan prepareWith(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, const MemoryPlan& memory, Store& store,
                 Progress& progress);

}  // namespace gswarm
