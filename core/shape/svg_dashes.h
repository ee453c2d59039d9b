#pragma once
#include <vector>

#include "core/shape/svg_path.h"

namespace gswarm {

/// Lines cut into dashes: lengths of dash and gap in turn, beginning `offset` into them. Nothing is cut where they add up
/// to nothing. Throws Error as soon as there are more points than `most`.
SvgLines dashed(const SvgLines& lines, std::vector<double> pattern, double offset, std::size_t most);

}  // namespace gswarm
