#include "core/evaluate/evaluator.h"

#include "core/base/parallel.h"
#include "core/flow/flow.h"
#include "core/prepare/prepare.h"
#include "core/prepare/run_plan.h"

namespace gswarm {
Evaluator::Evaluator(int threads) : workers_(threads) {}
Evaluator::~Evaluator() = default;

Plan Evaluator::plan(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Progress& progress) {
    Plan plan;
    workers_.run([&] { plan = prepare(scene, swarm, frame, options, store_, progress); });
    return plan;
}

std::shared_ptr<ResultColumns> Evaluator::freshColumns() {
    const std::lock_guard lock(poolMutex_);
    for (auto& pooled : pool_)
        if (pooled.use_count() == 1) return pooled;
    auto columns = std::make_shared<ResultColumns>();
    if (pool_.size() < 8) pool_.push_back(columns);
    return columns;
}

std::shared_ptr<const Result> Evaluator::alike(const Plan& plan) {
    const std::lock_guard lock(poolMutex_);
    const auto found = last_.find(plan.swarm);
    if (plan.hash == 0 || found == last_.end() || found->second->hash != plan.hash || found->second->wanted != plan.wanted) return nullptr;
    if (found->second->moment.frame == plan.moment.frame) return found->second;
    auto same = std::make_shared<Result>(*found->second);
    same->moment = plan.moment;
    return same;
}

std::shared_ptr<const Result> Evaluator::run(const Plan& plan, Progress& progress) {
    if (auto same = alike(plan)) return same;
    std::shared_ptr<const Result> result;
    const auto columns = freshColumns();
    workers_.run([&] { result = runPlan(plan, columns, store_, progress); });
    const std::lock_guard lock(poolMutex_);
    if (plan.hash) last_[plan.swarm] = result;
    return result;
}

void Evaluator::forBlocks(const Plan& plan, Progress& progress, const AfterCard* afterCard, const std::function<void(Block&)>& take) {
    workers_.run([&] {
        forEach(static_cast<std::size_t>(plan.blocks()), [&](std::size_t b) {
            if (progress.cancelled()) return;
            FlowSpace& space = store_.spaces().local();
            runBlock(plan, static_cast<int>(b), space, afterCard);
            take(space.block);
        });
    });
    progress.check();
}

std::shared_ptr<const Result> Evaluator::evaluate(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options,
                                                  Progress& progress) {
    return run(plan(scene, swarm, frame, options, progress), progress);
}

}  // namespace gswarm
