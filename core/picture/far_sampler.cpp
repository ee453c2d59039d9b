#include "core/picture/far_sampler.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>
#include <numeric>

#include "core/picture/largest.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/picture/far_sampler.cpp"
#include <hwy/foreach_target.h>

#include "core/picture/place_lanes-inl.h"

// Places of a panorama, 0 … 1 to the right and down, and their directions in the world, in which it is turned about +Y.
#ifndef GSWARM_PANORAMA_PLACES
#define GSWARM_PANORAMA_PLACES
namespace gswarm {
struct PanoramaPlaces {
    NumberLanes right, down, sine;  ///< the sine of the angle from straight up
};
}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

constexpr float whole = 2 * std::numbers::pi_v<float>;

/// Radians of the direction (x, y), −π … π.
HWY_INLINE F angleOf(F y, F x) {
    const F a = hn::Abs(x), b = hn::Abs(y);
    const auto steep = hn::Gt(b, a);
    F angle = arcTangent(hn::Min(a, b) / hn::Max(hn::Max(a, b), number(1e-30f)));
    angle = hn::IfThenElse(steep, number(whole / 4) - angle, angle);
    angle = hn::IfThenElse(hn::Lt(x, hn::Zero(Floats())), number(whole / 2) - angle, angle);
    return hn::CopySign(angle, y);
}

void directionLanesOf(const PanoramaPlaces& places, float cosine, float sine, VectorLanes& directions, NumberLanes& sines) {
    for (int at = 0; at < placesTogether; at += lanes()) {
        const SineCosine around = sineCosine((load(places.right, at) - number(0.5f)) * number(whole));
        const SineCosine down = sineCosine(load(places.down, at) * number(whole / 2));
        const F x = down.sine * around.sine, z = hn::Neg(down.sine * around.cosine);
        store(Vector{number(cosine) * x + number(sine) * z, down.cosine, number(cosine) * z - number(sine) * x}, directions, at);
        store(down.sine, sines, at);
    }
}

void placeLanesOf(const VectorLanes& directions, float cosine, float sine, PanoramaPlaces& places) {
    for (int at = 0; at < placesTogether; at += lanes()) {
        const Vector d = load(directions, at);
        const F x = number(cosine) * d.x - number(sine) * d.z, z = number(sine) * d.x + number(cosine) * d.z;
        store(angleOf(x, hn::Neg(z)) * number(1 / whole) + number(0.5f), places.right, at);
        store(arcCosine(hn::Max(hn::Min(d.y, number(1)), number(-1))) * number(2 / whole), places.down, at);
        store(hn::Sqrt(hn::Max(number(1) - d.y * d.y, number(1e-8f))), places.sine, at);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(directionLanesOf);
HWY_EXPORT(placeLanesOf);

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
        surroundings_.push_back({one, std::cos(one.around), std::sin(one.around)});
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
    const Around& all = around(source);
    const Panorama& picture = *all.surroundings.picture;
    PanoramaPlaces on;
    for (const int k : places) {
        const glm::vec2 place = picture.pick(u[k], v[k]);
        on.right[k] = place.x, on.down[k] = place.y;
    }
    HWY_DYNAMIC_DISPATCH(directionLanesOf)(on, all.cosine, all.sine, ways.direction, on.sine);
    look(all, places, on, ways);
}

void FarSampler::met(int source, std::span<const int> places, const VectorLanes& directions, FarWays& ways) const {
    ways.direction = directions;
    if (isSun(source)) {
        const Disc& sun = suns_[static_cast<std::size_t>(source)];
        for (const int k : places)
            ways.light[static_cast<std::size_t>(k)] = sun.light, ways.density[k] = sun.cone.holds(directions.at(k)) ? sun.density : 0;
        return;
    }
    const Around& all = around(source);
    PanoramaPlaces on;
    HWY_DYNAMIC_DISPATCH(placeLanesOf)(directions, all.cosine, all.sine, on);
    look(all, places, on, ways);
}

void FarSampler::look(const Around& all, std::span<const int> places, const PanoramaPlaces& on, FarWays& ways) {
    for (const int k : places) {
        const Panorama::Seen seen = all.surroundings.picture->at({on.right[k], on.down[k]});
        ways.light[static_cast<std::size_t>(k)] = seen.light * all.surroundings.light;
        ways.density[k] = Panorama::bySolidAngle(seen.density, on.sine[k]);
    }
}

}  // namespace gswarm
#endif
