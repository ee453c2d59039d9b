#include "core/picture/far_sampler.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/picture/bsdf.h"

namespace gswarm {

using glm::vec3;

namespace {

constexpr float pi = std::numbers::pi_v<float>;

float largest(const vec3& c) { return std::max({c.x, c.y, c.z}); }

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
    // By what white paper would send back if it faced them.
    float all = 0;
    for (const Sun& sun : light.suns) {
        if (largest(sun.light) <= 0) continue;
        suns_.emplace_back(sun);
        all += suns_.back().chance = largest(sun.light);
    }
    for (const Surroundings& one : light.surroundings) {
        if (!one.picture || largest(one.light * one.picture->mean()) <= 0) continue;
        surroundings_.push_back({one, largest(one.light * one.picture->mean())});
        all += surroundings_.back().chance;
    }
    for (Disc& sun : suns_) sun.chance /= all;
    for (Around& one : surroundings_) one.chance /= all;
}

void FarSampler::add(FarWay& way, const Disc* but) const {
    for (const Disc& sun : suns_) {
        if (&sun == but || !sun.holds(way.direction)) continue;
        way.light += sun.light;
        way.density += sun.chance * sun.density;
    }
    for (const Around& one : surroundings_) {
        way.light += one.what.from(way.direction);
        way.density += one.chance * one.what.picture->density(turnedBack(way.direction, one.what.around));
    }
}

FarWay FarSampler::sample(float choose, float u, float v) const {
    FarWay way;
    for (const Disc& sun : suns_) {
        if (choose >= sun.chance && (&sun != &suns_.back() || !surroundings_.empty())) {
            choose -= sun.chance;
            continue;
        }
        way = {sun.direction(u, v), sun.light, sun.chance * sun.density};
        // A very narrow one may not hold its own edge.
        add(way, &sun);
        return way;
    }
    for (const Around& one : surroundings_) {
        if (choose >= one.chance && &one != &surroundings_.back()) {
            choose -= one.chance;
            continue;
        }
        way.direction = turnedBack(one.what.picture->pick(u, v), -one.what.around);
        add(way, nullptr);
        return way;
    }
    return way;
}

FarWay FarSampler::met(const vec3& direction) const {
    FarWay way{direction};
    add(way, nullptr);
    return way;
}

}  // namespace gswarm
