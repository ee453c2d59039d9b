#include "core/picture/moments.h"

#include "core/base/parallel.h"

namespace gswarm {
namespace {

/// The surface with the same number in every list, if it is the same thing there.
std::vector<const Surface*> atAllMoments(std::span<const DrawList> lists, std::size_t number) {
    const Surface& first = lists.front().surfaces[number];
    std::vector<const Surface*> moments{&first};
    for (const DrawList& list : lists.subspan(1)) {
        if (number >= list.surfaces.size()) return {&first};
        const Surface& other = list.surfaces[number];
        const bool same = other.shape == first.shape && other.copy == first.copy && other.path == first.path &&
                          !other.swarm == !first.swarm &&
                          (!first.swarm || (other.swarm->swarm == first.swarm->swarm && other.swarm->count == first.swarm->count));
        if (!same) return {&first};
        moments.push_back(&other);
    }
    return moments;
}

void eachInstance(const std::vector<const Surface*>& moments, std::size_t first, const Progress& progress, const TakeThing& take) {
    const Surface& surface = *moments.front();
    std::vector<glm::mat4> poses;
    for (const Surface* moment : moments) poses.push_back(moment->pose);
    const auto rows = surface.instances();
    forRanges(rows.size(), 1024, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::mat4> transforms;
        for (std::size_t k = begin; k < end; ++k) {
            if (k % 1024 == 0 && progress.cancelled()) return;
            const std::uint32_t i = rows[k];
            transforms.clear();
            for (std::size_t m = 0; m < moments.size(); ++m) {
                const Result& result = *moments[m]->swarm;
                // At another moment it is the same thing.
                if (shownBy(result, i) != shownBy(*surface.swarm, i)) {
                    transforms.resize(1);
                    break;
                }
                transforms.push_back(poses[m] * matrixOf(result, i));
            }
            take(static_cast<std::uint32_t>(first + k), transforms);
        }
    });
    progress.check();
}

}  // namespace

std::size_t thingCount(const Surface& surface) { return surface.swarm ? surface.instances().size() : surface.dimmed ? 0 : 1; }

std::size_t thingCount(const DrawList& list) {
    std::size_t count = 0;
    for (const Surface& surface : list.surfaces) count += thingCount(surface);
    return count;
}

std::vector<glm::mat4> posesOf(std::span<const DrawList> moments, std::size_t surface) {
    std::vector<glm::mat4> poses;
    for (const Surface* moment : atAllMoments(moments, surface)) poses.push_back(moment->pose);
    return poses;
}

void eachThing(std::span<const DrawList> lists, const Progress& progress, const TakeThing& take, const std::vector<bool>& leftOut) {
    const DrawList& list = lists.front();
    std::size_t next = 0;
    for (std::size_t s = 0; s < list.surfaces.size(); ++s) {
        if (!leftOut.empty() && leftOut[s]) continue;
        const Surface& surface = list.surfaces[s];
        if (surface.swarm)
            eachInstance(atAllMoments(lists, s), next, progress, take);
        else if (!surface.dimmed)
            take(static_cast<std::uint32_t>(next), posesOf(lists, s));
        next += thingCount(surface);
    }
}

}  // namespace gswarm
