#pragma once
#include <glm/vec3.hpp>

namespace gswarm {

enum class GridMeasure { spacing, overall };
enum class GridAnchor { centre, corner };
enum class GridFill { box, ball, tube };

/// Counts along X, Y and Z; a 1 leaves that dimension out. Ids are lattice coordinates from the anchor, so raising a
/// count keeps the ids that were there; with the centre as anchor, homes move by half a step when a count changes
/// between even and odd.
struct Grid {
    glm::ivec3 count;
    GridMeasure measure;
    glm::vec3 spacing, overall;  ///< metres
    GridAnchor anchor;
    GridFill fill;
    float shift;  ///< percent of a step, every second row
};

}  // namespace gswarm
