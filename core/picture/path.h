#pragma once
#include "core/picture/lamp_tree.h"
#include "core/picture/sobol.h"
#include "core/picture/trace_world.h"

namespace gswarm {

/// The most times that light is scattered on its way to the camera.
inline constexpr int mostBounces = 12;
/// Light that was scattered before counts at most this much in one sample (times 1 / exposure): single very bright ways would
/// leave specks.
inline constexpr float mostIndirect = 10;

/// What all paths of a picture share.
struct PathScene {
    const TraceWorld& world;
    const Setting& setting;
    const LampTree& lamps;
    float moment = 0;  ///< 0 when the shutter opens, 1 when it closes
};

/// Light that comes back along a ray from the camera. What is seen of the sun and lamps is sampled from both ends and weighed by
/// Veach's power rule; bright spots that see-through things throw are those of light that goes straight through.
glm::vec3 tracePath(const PathScene& scene, glm::vec3 from, glm::vec3 direction, Sobol& numbers);

}  // namespace gswarm
