#pragma once
#include <cstddef>
#include <polyclipping/clipper.hpp>
#include <vector>

namespace gswarm {

/// Paths in groups whose bounds, each widened by a margin, are apart: what is done with the paths of one group does not
/// depend on the others. Groups are in the order of their first paths, paths within them as given. Cuts at the gaps
/// along X, then Y, as long as there are any; time grows with n log n for each such pass.
std::vector<std::vector<std::size_t>> pathsApart(const ClipperLib::Paths& paths, double margin = 0);

/// Throws Error for paths whose union would take minutes: crossings and edges side by side are what it takes time for.
void refuseTangles(const ClipperLib::Paths& paths);

}  // namespace gswarm
