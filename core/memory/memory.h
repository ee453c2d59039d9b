#pragma once
#include <functional>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/flow/plan.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// The last card of a swarm's rail that remembers something, counted from 0; −1 if none does.
int lastCardThatRemembers(const Scene& scene, ObjectId swarm);
/// The project's first frame, whole.
double firstFrameOf(const Scene& scene);
/// The whole frame at which a card begins settled: the project's first, or one loop earlier.
double memoryStart(const Scene& scene, const Object& gesture);

/// How far a gesture has gone over into what it was one loop earlier, 0 … 1.
double seamAt(const Scene& scene, const Object& gesture, double frame);

/// Whether a gesture of a swarm's rail may shift the time of instances.
bool shiftsTimes(const Scene& scene, ObjectId swarm);

/// Keys of the states of one rail: each of all that the state of its frame depends on, so that an edit leaves the states of
/// the frames before its first effect valid.
class MemoryKeys {
  public:
    MemoryKeys(const Scene& scene, ObjectId swarm, const PlanOptions& options, Store& store);
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

/// How a rail is prepared at an earlier frame, given what it remembers there.
struct EarlierFrames {
    std::function<Plan(double frame, const PlanOptions& options, const MemoryPlan& memory)> plan;
    std::function<HomePlan(double frame, const PlanOptions& options)> homes;
};

/// The memory of a plan at a frame, made by running the rail from the nearest frame that is known; cancels between frames
/// and keeps those made so far.
MemoryPlan memoryFor(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, const EarlierFrames& earlier,
                     Store& store, Progress& progress);

/// The memory of a swarm that shares a world with another one, at the very moment of that other's.
MemoryPlan memoryBeside(const Scene& scene, ObjectId swarm, const MemoryPlan& other, double seen, const PlanOptions& options,
                        const EarlierFrames& earlier, Store& store, Progress& progress);

/// A state for the blocks of a plan to write to, and where it goes afterwards.
std::shared_ptr<MemoryState> emptyState(const Plan& plan);

/// Which whole frames of the range are known, for the bar in the time panel. All of a swarm that remembers nothing.
std::vector<bool> knownFrames(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store);

}  // namespace gswarm
