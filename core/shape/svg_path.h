#pragma once
#include <string_view>
#include <vector>

#include "core/shape/outline.h"

namespace gswarm {

/// The straight pieces of an SVG path's data ("M 0 0 L …"), in its own units. `closed` tells which lines end in Z.
/// Reading stops at the first thing that is no path, as the standard asks for.
FlatContours readSvgPath(std::string_view data, int curveSteps, std::vector<bool>& closed);

}  // namespace gswarm
