#pragma once
#include <optional>

#include "core/evaluate/evaluator.h"

namespace gswarm {

/// A frame of the project at which a card acts on instances and something of it is seen at the end: of the stretch that is
/// nearest to `from`, one where it acts on most. Looks at up to 64 frames, evenly over the project, with at most some ten
/// thousand instances; what is shorter or smaller than that may be passed over. Throws Error as evaluating does, Cancelled.
std::optional<double> nearestActingFrame(const Scene& scene, ObjectId swarm, ObjectId railEntry, double from, const PlanOptions& options,
                                         Evaluator& evaluator, Progress& progress);

}  // namespace gswarm
