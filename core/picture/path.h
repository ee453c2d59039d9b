#pragma once
#include <functional>
#include <memory>
#include <span>
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

/// A ray from the camera, and the numbers of 0 … 1 that its path takes, all but the first groups.
struct PathStart {
    Lens::Ray ray;
    float moment = 0;  ///< 0 when the shutter opens and 1 when it closes
    Sobol numbers;
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

/// Follows the paths of many rays from the camera together, bounce after bounce: what surfaces do with light is worked out for sixteen
/// of them at a time, and neighbours are shot together. What is seen of suns, surroundings, lamps and things that glow is sampled from
/// both ends and weighed by Veach's power rule; bright spots that see-through things throw are those of light that goes straight through.
class PathWave {
  public:
    /// How many are worth tracing together: more fall out of the processor's caches.
    static constexpr std::size_t most = 256;
    /// Groups of numbers that the paths of a scene leave to the camera.
    static constexpr std::uint32_t cameraGroups = 2;

    explicit PathWave(const PathScene& scene);
    ~PathWave();
    PathWave(const PathWave&) = delete;
    PathWave& operator=(const PathWave&) = delete;
    /// The light that comes back along each of up to `most`. Tells layers where there are any, one for each start; the samples are the
    /// same.
    void trace(std::span<PathStart> starts, std::span<Sample> samples, std::span<PathLayers> layers = {});

  private:
    struct Path;
    struct Block;
    using Paths = std::span<Path* const>;

    bool askedAll(bool direct) const;
    void meet(int bounce);
    bool leaves(Path& path, int bounce) const;
    void escape(Paths paths, int bounce);
    void arrive(Block& block, int bounce);
    void askLights(Block& block, int bounce);
    void shine(Block& block, LightSource::Kind kind, bool direct);
    void goOn(Block& block, int bounce);

    const PathScene& scene_;
    std::vector<Path> paths_;
    std::vector<Path*> live_, left_;
    std::unique_ptr<Block> block_;
};

}  // namespace gswarm
