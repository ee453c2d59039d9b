#pragma once
#include <iosfwd>

#include "core/evaluate/plan.h"

namespace gswarm {

/// The instances of a plan as CSV, world space, one row an instance in number order. Columns:
/// number,id,shape,shown,px,py,pz,qx,qy,qz,qw,sx,sy,sz,r,g,b,a (colour sRGB-encoded). Numbers read back the same.
void writeCsv(const Plan& plan, const Scene& scene, std::ostream& out, Progress* progress = nullptr);

}  // namespace gswarm
