#include "core/picture/far_sampler.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>
#include <numeric>

#include "core/picture/largest.h"

namespace gswarm {

using glm::vec3;

namespace {

constexpr float pi = std::numbers::pi_v<float>;

}  // namespace

FarSampler::Disc FarSampler::discOf(const Sun& sun) {
    const Cone cone(sun.toward, std::max(sun.size * 0.5f, 1e-4f));
    const float angle = 2 * pi * std::max(1 - cone.cosine, 1e-9f);
    // Its strength is what white paper that faces it sends back.
    return {cone, sun.light * (pi / angle), 1 / angle};
}

FarSampler::FarSampler(const FarLight& light) {
    for (const Sun& sun : light.suns) {
        if (largestOf(sun.light) <= 0) continue;
        suns_.push_back(discOf(sun));
        chances_.push_back(largestOf(sun.light));
        of_.push_back(sun.of);
    }
    for (const Surroundings& one : light.surroundings) {
        if (!one.picture || largestOf(one.light * one.picture->mean()) <= 0) continue;
        surroundings_.push_back(one);
        chances_.push_back(largestOf(one.light * one.picture->mean()));
        of_.push_back(one.of);
    }
    const float all = std::accumulate(chances_.begin(), chances_.end(), 0.0f);
    for (float& chance : chances_) chance /= all;
}

int FarSampler::pick(float choose) const {
    int source = 0;
    while (source + 1 < count() && choose >= chanceOf(source)) choose -= chanceOf(source++);
    return source;
}

void FarSampler::sample(int source, std::span<const int> places, const NumberLanes& u, const NumberLanes& v, FarWays& ways) const {
    if (isSun(source)) {
        // A very narrow one may not hold its own edge.
        const Disc& sun = suns_[static_cast<std::size_t>(source)];
        directionsIn(sun.cone, u, v, ways.direction);
        for (const int k : places) ways.light[static_cast<std::size_t>(k)] = sun.light, ways.density[k] = sun.density;
        return;
    }
    const Surroundings& all = around(source);
    for (const int k : places) {
        const FarWay way = met(source, turnedBack(all.picture->pick(u[k], v[k]), -all.around));
        ways.direction.put(k, way.direction);
        ways.light[static_cast<std::size_t>(k)] = way.light, ways.density[k] = way.density;
    }
}

FarWay FarSampler::met(int source, const vec3& direction) const {
    if (!isSun(source)) {
        const Surroundings& all = around(source);
        return {direction, all.from(direction), all.picture->density(turnedBack(direction, all.around))};
    }
    const Disc& sun = suns_[static_cast<std::size_t>(source)];
    return sun.cone.holds(direction) ? FarWay{direction, sun.light, sun.density} : FarWay{direction};
}

}  // namespace gswarm
