#include "core/picture/far_sampler.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>
#include <numeric>

#include "core/picture/bsdf.h"
#include "core/picture/largest.h"

namespace gswarm {

using glm::vec3;

namespace {

constexpr float pi = std::numbers::pi_v<float>;

}  // namespace

FarSampler::Disc::Disc(const Sun& sun) : toward(sun.toward), cosine(std::cos(std::max(sun.size * 0.5f, 1e-4f))) {
    const float angle = 2 * pi * std::max(1 - cosine, 1e-9f);
    density = 1 / angle;
    // Its strength is what white paper that faces it sends back.
    light = sun.light * (pi / angle);
    basis(toward, a, b);
}

bool FarSampler::Disc::holds(const vec3& direction) const { return glm::dot(direction, toward) >= cosine; }

vec3 FarSampler::Disc::direction(float u, float v) const {
    const float z = 1 - u * (1 - cosine), r = std::sqrt(std::max(0.0f, 1 - z * z)), around = 2 * pi * v;
    return glm::normalize(a * (r * std::cos(around)) + b * (r * std::sin(around)) + toward * z);
}

FarSampler::FarSampler(const FarLight& light) {
    for (const Sun& sun : light.suns) {
        if (largestOf(sun.light) <= 0) continue;
        suns_.emplace_back(sun);
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

FarWay FarSampler::sample(int source, float u, float v) const {
    if (isSun(source)) {
        // A very narrow one may not hold its own edge.
        const Disc& sun = suns_[static_cast<std::size_t>(source)];
        return {sun.direction(u, v), sun.light, sun.density};
    }
    return met(source, turnedBack(around(source).picture->pick(u, v), -around(source).around));
}

FarWay FarSampler::met(int source, const vec3& direction) const {
    if (!isSun(source)) {
        const Surroundings& all = around(source);
        return {direction, all.from(direction), all.picture->density(turnedBack(direction, all.around))};
    }
    const Disc& sun = suns_[static_cast<std::size_t>(source)];
    return sun.holds(direction) ? FarWay{direction, sun.light, sun.density} : FarWay{direction};
}

}  // namespace gswarm
