#pragma once
#include "core/flow/result.h"

namespace gswarm {

/// The box around all instances of a result that are shown, with the size of what each repeats; in the swarm's own space. Empty
/// if nothing is shown. (`Result::bounds` is the box around their places.)
Bounds extentOf(const Result& result);

}  // namespace gswarm
