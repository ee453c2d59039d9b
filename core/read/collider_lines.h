#pragma once
#include "core/flow/result.h"
#include "core/provide/store.h"

namespace gswarm {

/// The solids as which the variants of a result meet others, as lines in each one's own metres, by the settings of a gesture that lets
/// bodies move; empty for any other gesture.
std::vector<ZoneLines> colliderLines(const Object& gesture, const Result& result, Store& store);

}  // namespace gswarm
