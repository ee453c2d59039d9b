#pragma once
#include <glm/vec3.hpp>
#include <vector>

#include "core/light/panorama.h"

namespace gswarm {

/// What surfaces of growing roughness mirror of a panorama, and what matt ones receive: a small panorama each, one behind the other.
struct BlurredPanorama {
    static constexpr int width = 64, height = 32, levels = 6;
    /// levels × height × width. The first levels are mirrored by a roughness of 0, 0.25 … 1; the last is what white matt paper sends
    /// back that faces there.
    std::vector<glm::vec3> light;
};

/// On all cores, some 50 ms. The lobe that is mirrored is that of the GGX distribution seen head-on.
BlurredPanorama blurred(const Panorama& panorama);

}  // namespace gswarm
