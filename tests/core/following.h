#pragma once
#include <vector>

#include "core/picture/path.h"

namespace gswarm::making {

/// What so many paths of one ray bring back, their numbers by a seed.
inline std::vector<Sample> followed(const PathScene& scene, const Lens::Ray& ray, int samples, std::uint32_t seed) {
    std::vector<Sample> all;
    PathWave wave(scene);
    std::vector<Sample> some(PathWave::most);
    while (static_cast<int>(all.size()) < samples) {
        std::vector<PathStart> starts;
        while (starts.size() < PathWave::most && static_cast<int>(all.size() + starts.size()) < samples) {
            Sobol numbers(0, 0, static_cast<std::uint32_t>(all.size() + starts.size()), seed);
            numbers.together();
            starts.push_back({ray, 0, numbers});
        }
        wave.trace(starts, some);
        all.insert(all.end(), some.begin(), some.begin() + static_cast<std::ptrdiff_t>(starts.size()));
    }
    return all;
}

}  // namespace gswarm::making
