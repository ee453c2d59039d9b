#pragma once
#include "core/formation/formation_kind.h"

namespace gswarm {

/// The largest factor on a mesh at which copies of it at neighbouring homes touch and don't overlap, all standing with
/// `foot` (in the mesh's own metres) on their homes; 0 if the spacing says nothing. Exact for shapes that are convex:
/// each pair of faces and of edges gives a direction in which the copies can be told apart (separating axes, Gottschalk
/// 1996), and in each direction the touching size follows by one division. Others are taken as their hull.
float fitSize(const Spacing& spacing, const Mesh& mesh, const glm::vec3& foot);

/// Directions that can tell two convex copies of a mesh apart: its faces' normals and its edges', each once.
struct HullDirections {
    std::vector<glm::vec3> normals, edges;
};
HullDirections hullDirections(const Mesh& mesh);

}  // namespace gswarm
