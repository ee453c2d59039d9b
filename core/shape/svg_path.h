#pragma once
#include <string_view>
#include <vector>

#include "core/shape/outline.h"

namespace gswarm {

/// The straight pieces of an SVG path's data ("M 0 0 L …"), in its own units; `closed` tells which lines end in Z.
struct SvgLines {
    FlatContours lines;
    std::vector<bool> closed;
    bool damaged = false;  ///< reading stopped at something that is no path, as the standard asks for
};
/// Throws Error as soon as it has more points than `most`.
SvgLines readSvgPath(std::string_view data, int curveSteps, std::size_t most);

}  // namespace gswarm
