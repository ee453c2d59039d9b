#pragma once
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/evaluate/checkpoints.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;
struct Plan;
struct PlanOptions;

/// What a plan needs to know of the frames before its own. Before the project's first frame nothing is remembered, unless the
/// memory loops: then the lap before it is the lap of the loop, so that the state comes from the frames that are played
/// before the first in a loop. State advances on whole frames only: a fractional frame is one
/// exact partial step from the frame below.
struct MemoryPlan {
    bool any = false;                         ///< whether a card of the rail remembers something
    double frames = 0;                        ///< of the step from the state, 0 … 1
    double before = 0;                        ///< the whole frame that the state belongs to
    std::uint64_t key = 0;                    ///< under which the state after this frame is kept; 0 for a fractional frame
    std::uint64_t hash = 0;                   ///< of all that the state depends on
    std::shared_ptr<const MemoryState> from;  ///< null where nothing is remembered yet: everything begins settled
};

/// The last card of a swarm's rail that remembers something, counted from 0; −1 if none does.
int lastCardThatRemembers(const Scene& scene, ObjectId swarm);
/// The project's first frame, whole.
double firstFrameOf(const Scene& scene);
/// The whole frame at which a card begins settled: the project's first, or one loop earlier.
double memoryStart(const Scene& scene, const Object& gesture);

/// Keys of the states of one rail: each of all that the state of its frame depends on, so that an edit leaves the states of
/// the frames before its first effect valid.
class MemoryKeys {
  public:
    MemoryKeys(const Scene& scene, ObjectId swarm, const PlanOptions& options);
    double start() const { return start_; }
    /// Of a whole frame from start() on.
    std::uint64_t at(double frame);

  private:
    const Scene& scene_;
    double start_ = 0, first_ = 0, loop_ = 0, ahead_ = 0;
    std::vector<const Track*> moving_;
    std::uint64_t still_ = 0;
    std::vector<std::uint64_t> keys_;
};

/// The memory of a plan at a frame, made by running the rail from the nearest frame that is known; cancels between frames
/// and keeps those made so far.
MemoryPlan memoryFor(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress);

/// A state for the blocks of a plan to write to, and where it goes afterwards.
std::shared_ptr<MemoryState> emptyState(const Plan& plan);

/// Which whole frames of the range are known, for the bar in the time panel. All of a swarm that remembers nothing.
std::vector<bool> knownFrames(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store);
/// Makes the next frame of the range that is not known, if there is one.
void makeNextFrame(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store, Progress& progress);

}  // namespace gswarm
