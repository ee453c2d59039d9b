#pragma once
#include "core/flow/stock_plan.h"
#include "core/prepare/looks.h"
#include "core/provide/shapes.h"
#include "core/scene/scene.h"

namespace gswarm {

/// Throws Error if there is nothing to repeat, or a shape or a swarm that it repeats can't be made.
StockPlan prepareStock(const Scene& scene, const Object& swarm, double frame, const Shapes& shapes, const HomePlan& homes, Looks& looks,
                       const PlanOptions& options, Store& store, Progress& progress);

}  // namespace gswarm
