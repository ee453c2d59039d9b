#pragma once
#include <vector>

#include "live/gathered.h"

/// What swarms show in the instances of other swarms. There may be ten million of these leaves: they are drawn together whatever instance
/// they are in, and where they are less than a pixel, or more than can be drawn in time, a few that are larger stand for all.
namespace gswarm::live {

bool isNested(const Surface& surface);
/// Whether a surface is coloured by something else in the picture, as its swarm is, or the outermost that repeats it.
bool isRecoloured(const LivePicture& picture, const Surface& surface);

/// How many leaves of each nested surface one stands for, so that they have no more than `most`
/// triangles in their coarsest meshes; 0 for what is not in the picture and
/// for what is not nested. Powers of two, so that few change when the camera moves.
std::vector<std::size_t> stridesOf(const Gathering& gathering, const DrawList& list, double most);

/// Opaque leaves of all surfaces that show the same mesh in the same way.
struct Together {
    Surface as;  ///< the first of them
    std::array<Batch, detailLevels> batches;
};
/// Those that are seen through go to `later`.
std::vector<Together> gatheredTogether(const Gathering& gathering, const DrawList& list, std::vector<SeeThrough>& later);

/// A leaf's matrix in the world, as twelve numbers row by row, larger for all that it stands for.
void leafMatrix(const glm::mat4& pose, const float* own, float larger, float* to);

}  // namespace gswarm::live
