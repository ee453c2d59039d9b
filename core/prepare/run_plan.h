#pragma once
#include <memory>

#include "core/base/progress.h"
#include "core/flow/plan.h"
#include "core/flow/result.h"

namespace gswarm {

class Store;

/// Runs a plan through its whole rail, with the columns given to write to, whatever they hold. What its instances show at moments
/// of their own is made too. Throws Cancelled between blocks, and Error where what is shown at another moment can't be made.
std::shared_ptr<const Result> runPlan(const Plan& plan, const std::shared_ptr<ResultColumns>& columns, Store& store, Progress& progress);

}  // namespace gswarm
