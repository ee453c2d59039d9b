#pragma once
#include <memory>
#include <mutex>
#include <vector>

#include "core/evaluate/result.h"
#include "core/evaluate/store.h"

namespace gswarm {

/// Computes swarms on a given number of threads. The bits of a result depend neither on the threads nor on the
/// processor's vector width. Safe to call from several threads; each call uses the same arena.
class Evaluator {
  public:
    /// 0 threads means as many as there are cores.
    explicit Evaluator(int threads = 0);
    ~Evaluator();

    /// One swarm at one frame. Throws Error as prepare() does, Cancelled between blocks.
    std::shared_ptr<const Result> evaluate(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options,
                                           Progress& progress);
    /// Runs a plan that is already prepared.
    std::shared_ptr<const Result> run(const Plan& plan, Progress& progress);
    /// The weight of one card on every instance, in number order.
    std::vector<float> weights(const Plan& plan, int card, Progress& progress);
    Store& store() { return store_; }
    int threads() const;

  private:
    std::shared_ptr<ResultColumns> freshColumns(int count);

    struct Arena;
    std::unique_ptr<Arena> arena_;
    Store store_;
    std::mutex poolMutex_;
    std::vector<std::shared_ptr<ResultColumns>> pool_;
};

}  // namespace gswarm
