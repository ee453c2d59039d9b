#pragma once
#include "core/evaluate/evaluator.h"
#include "core/provide/store.h"

namespace gswarm {

/// Where a force takes things: lines in the world that follow it from places of a lattice around a swarm, the longest where it is
/// strongest, each with an arrow at its end.
struct ForceLines {
    ObjectId force;
    ZoneLines lines;
};

/// Empty where the force waits for something, is off or only slows. Zones of its weave that choose instances are passed over.
ForceLines forceLinesOf(const Scene& scene, ObjectId force, const Result& around, const PlanOptions& options, Store& store,
                        Progress& progress);

}  // namespace gswarm
