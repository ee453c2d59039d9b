#pragma once
#include <iosfwd>
#include <string>

#include "core/flow/plan.h"

namespace gswarm {

/// A text as one field (RFC 4180).
std::string csvField(const std::string& text);

/// The instances of a plan as CSV, world space, one row an instance in number order. Columns:
/// number,id,shape,shown,position_x … _z,quaternion_x … _w,scale_x … _z,red,green,blue,alpha (colour sRGB-encoded), with units as
/// "position_x [m]" where they are wanted. Numbers read back the same.
struct CsvOptions {
    bool units = false;
    bool copies = false;  ///< those by symmetry as rows of their own, with a column that tells which; 0 is the original
};
void writeCsv(const Plan& plan, const Scene& scene, std::ostream& out, const CsvOptions& options = {}, Progress* progress = nullptr);

}  // namespace gswarm
