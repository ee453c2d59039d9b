#pragma once
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/picture/draw_list.h"

/// Embree knows one level of instances. What a swarm that is repeated shows is therefore either taken apart to an instance each, or
/// joined to one mesh that stands as often as the swarm is repeated.
namespace gswarm {

/// Which surfaces of a list are joined: those of inner swarms whose instances stand still against each other while the shutter is open,
/// wherever that takes less memory than an instance for each. By number.
std::vector<bool> joinedSurfaces(std::span<const DrawList> shutter);

/// All instances of a surface one behind the other, in the space of their swarm: places and triangles alone. Triangle t is that of
/// instance t / n of the surface's mesh of n triangles. Throws Cancelled.
Mesh joinedLeaves(const Surface& surface, const Progress& progress);

}  // namespace gswarm
