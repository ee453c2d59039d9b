#pragma once
#include <array>
#include <functional>
#include <glm/vec3.hpp>
#include <vector>

#include "core/light/panorama.h"

namespace gswarm {

/// Light by direction as a sum of spherical harmonics up to the second order (Ramamoorthi and Hanrahan 2001), without their scales:
/// these times 1, x, y, z, xy, yz, 3z² − 1, xz, x² − y².
using SmoothLight = std::array<glm::vec3, 9>;
std::array<float, 9> harmonicsAt(const glm::vec3& direction);
glm::vec3 lightFrom(const SmoothLight& light, const glm::vec3& direction);
/// Scales, squared and times 4π, of light that is summed up; and of what white matt paper sends back that faces a direction.
inline constexpr std::array<float, 9> harmonicScale{1, 3, 3, 3, 15, 15, 1.25f, 15, 3.75f};
inline constexpr std::array<float, 9> mattScale{1, 2, 2, 2, 3.75f, 3.75f, 0.3125f, 3.75f, 0.9375f};
/// Light that is known by direction, from looking in 512 of them; some 20 µs.
SmoothLight smoothed(const std::array<float, 9>& scale, const std::function<glm::vec3(const glm::vec3&)>& light);

/// What surfaces of growing roughness mirror of a panorama, and what matt ones receive.
struct BlurredPanorama {
    static constexpr int side = 34, levels = 5;
    static constexpr float firstRoughness = 0.25f;  ///< below it a mirror is sharper than the first blurred level
    /// levels × side × side, mirrored by a roughness of 0, 0.25 … 1: all directions on an octahedral map (Cigolle et al. 2014) with +Y
    /// in its middle, +X to the right and +Z down, and around it one row of what lies beyond its edges.
    std::vector<glm::vec3> light;
    SmoothLight matt;  ///< what white matt paper sends back
};

/// On all cores, some 20 ms. The lobe that is mirrored is that of the GGX distribution seen head-on.
BlurredPanorama blurred(const Panorama& panorama);

}  // namespace gswarm
