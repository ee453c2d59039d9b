#pragma once
#include <cstdint>
#include <functional>

#include "core/base/progress.h"
#include "core/picture/draw_list.h"

/// Instances as meshes of their own, for formats that know no instances.
namespace gswarm {

/// One thing in the world, as long as the call lasts. Normals are unit; faces of mirrored things are turned round, so that they are
/// counter-clockwise from outside still.
struct RealisedThing {
    const Surface& surface;
    std::uint32_t row = 0;  ///< of the surface's result; 0 of what is seen once
    const Mesh& mesh;       ///< whose UV and colours count
    std::vector<glm::vec3> positions, normals;
    std::vector<std::uint32_t> triangles;
    glm::vec4 colour;  ///< linear, straight alpha; the mesh's own multiply it
};

struct RealisedCount {
    double vertices = 0, triangles = 0;
};
RealisedCount realisedCount(const DrawList& list);
/// Tells of all things of a list in its order. Throws Cancelled.
void realise(const DrawList& list, Progress& progress, const std::function<void(const RealisedThing&)>& take);

/// Throws Error with the figures for more vertices or triangles than formats can count.
void checkRealised(const RealisedCount& count);

}  // namespace gswarm
