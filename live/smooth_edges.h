#pragma once
#include "core/base/image.h"

namespace gswarm::live {

/// Blends pixels across edges of brightness, so that steps are not seen (Lottes 2009, "FXAA", its first way: along the edge by the
/// brightness of five neighbours). About 1 ns a pixel and core where nothing has an edge.
void smoothEdges(Image& image);

}  // namespace gswarm::live
