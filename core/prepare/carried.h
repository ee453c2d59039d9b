#pragma once
#include "core/flow/plan.h"
#include "core/provide/shapes.h"

namespace gswarm {

/// A scene's shapes at a frame, those that swarms carry too.
Shapes shapesAt(const Scene& scene, double frame, const PlanOptions& options, Store& store, Progress& progress);

}  // namespace gswarm
