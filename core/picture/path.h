#pragma once
#include <functional>
#include <glm/geometric.hpp>
#include <vector>

#include "core/picture/far_sampler.h"
#include "core/picture/glow_lights.h"
#include "core/picture/lamp_tree.h"
#include "core/picture/lens.h"
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
    const GlowLights& glow;
    FarSampler far;
};

/// What light comes from: a surface that glows, the skies, a source of FarSampler, a lamp of LampTree.
struct LightSource {
    enum Kind { surface, sky, far, lamp } kind = surface;
    int number = 0;
};

/// What a path tells beside its sample, for layers.
struct PathLayers {
    Hit first;              ///< what is seen first; none where that is the background
    glm::vec3 emission{0};  ///< the light that this gives of itself, by its coverage
    /// The sample's light by what it comes from, summed up in `groups`; nothing where there is no `groupOf`.
    std::function<int(const LightSource&)> groupOf;
    std::vector<glm::vec3> groups;
};

/// What one ray from the camera brings back.
struct Sample {
    glm::vec3 light{0};    ///< linear; of what is only partly there its part
    float coverage = 0;    ///< 1 on a surface, 0 where nothing is in front of the background
    float depth = 0;       ///< metres from the lens to what is seen first, times the coverage
    glm::vec3 albedo{0};   ///< what the first surface that is not smooth sends back of white light, for the noise filter
    glm::vec3 normal{0};   ///< of that surface, unit
    std::uint32_t id = 0;  ///< of the instance seen first, counted from 1 in the order of the draw list; 0 for none
    int rays = 0;          ///< that it took
};

/// Light that comes back along a ray from the camera. What is seen of suns, surroundings, lamps and things that glow is sampled from both
/// ends and weighed by Veach's power rule; bright spots that see-through things throw are those of light that goes straight through.
/// `moment` is 0 when the shutter opens and 1 when it closes. Tells layers where there are any; the sample is the same.
Sample tracePath(const PathScene& scene, const Lens::Ray& first, float moment, Sobol& numbers, PathLayers* layers = nullptr);

}  // namespace gswarm
