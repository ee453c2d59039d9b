#pragma once
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/base/parallel.h"
#include "core/flow/result.h"
#include "core/provide/store.h"

namespace gswarm {

/// Computes swarms on a given number of threads. The bits of a result depend neither on the threads nor on the
/// processor's vector width. Safe to call from several threads; each call uses the same workers.
class Evaluator {
  public:
    /// 0 threads means as many as there are cores.
    explicit Evaluator(int threads = 0);
    ~Evaluator();

    /// Prepares a swarm at a frame on these threads alone; see prepare().
    Plan plan(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Progress& progress);
    /// One swarm at one frame. Throws Error as prepare() does, Cancelled between blocks.
    std::shared_ptr<const Result> evaluate(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options,
                                           Progress& progress);
    /// Runs a plan that is already prepared, or gives the last result of its swarm again where nothing has changed.
    std::shared_ptr<const Result> run(const Plan& plan, Progress& progress);
    /// Runs all blocks of a plan through the whole rail, several at a time; `take` sees each as the last card left it.
    void forBlocks(const Plan& plan, Progress& progress, const AfterCard* afterCard, const std::function<void(Block&)>& take);
    Store& store() { return store_; }
    const Workers& workers() const { return workers_; }

  private:
    /// Those of an earlier result that nobody holds any more, or new ones.
    std::shared_ptr<ResultColumns> freshColumns();
    /// The last result of the swarm if nothing that it depends on has changed.
    std::shared_ptr<const Result> alike(const Plan& plan);

    Workers workers_;
    Store store_;
    std::mutex poolMutex_;
    std::vector<std::shared_ptr<ResultColumns>> pool_;
    std::map<ObjectId, std::shared_ptr<const Result>> last_;
};

}  // namespace gswarm
