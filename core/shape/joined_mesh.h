#pragma once
#include "core/base/progress.h"
#include "core/shape/mesh.h"
#include "core/shape/standing_shape.h"

namespace gswarm {

/// All that a swarm shows as one mesh, at a level of detail: vertices, triangles and faces one shape behind the other. Colours are each
/// shape's own times its mesh's, numbers those of its instance; normals and tangents stay at right angles where scales differ; what stands
/// mirrored is turned over. Throws Error if there would be more triangles than `mostTriangles`, Cancelled if `progress` (which may be null)
/// says so.
Mesh joinedMesh(const SwarmShown& shown, int detail, Progress* progress);

}  // namespace gswarm
