#pragma once
#include <optional>
#include <vector>

#include "core/evaluate/evaluator.h"

namespace gswarm {

/// When a card acts: the frames that were looked at, ascending, and on how many instances it acts at each; 0 where nothing of it
/// is seen at the end.
struct ActingFrames {
    struct Look {
        double frame;
        int touched;
    };
    ObjectId entry;
    std::vector<Look> looks;
};

/// Of every card of a swarm's rail. Looks at up to 64 frames, evenly over the project, with at most some ten thousand
/// instances; what is shorter or smaller than that may be passed over. Throws Error as evaluating does, Cancelled.
std::vector<ActingFrames> actingFrames(const Scene& scene, ObjectId swarm, const PlanOptions& options, Evaluator& evaluator,
                                       Progress& progress);

/// Of the stretch of acting frames that is nearest to `from`, the one where it acts on most.
std::optional<double> nearestActing(const ActingFrames& card, double from);
/// The first acting frame after `from`, the last one before it.
std::optional<double> nextActing(const ActingFrames& card, double from);
std::optional<double> lastActing(const ActingFrames& card, double from);

}  // namespace gswarm
