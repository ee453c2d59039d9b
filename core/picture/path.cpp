#include "core/picture/path.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/picture/bsdf.h"
#include "core/picture/largest.h"

namespace gswarm {
namespace {

using glm::vec3;

/// Ways of less density than this, by solid angle, come from matt scattering, not from mirrors.
constexpr float mattDensity = 2;
/// The least roughness behind such a way (path regularisation, Jendersie and Grosch 2019).
constexpr float leastSpread = 0.45f;
constexpr int mostAsked = 4;                               ///< sources far away that what is seen first asks one by one
constexpr int glowBounces = 2;                             ///< in which places look for what glows
constexpr int certainBounces = 4;                          ///< in which what carries all its light goes on for sure
constexpr int firstRoulette = 1;                           ///< bounces before paths that carry little may end by chance
constexpr float smooth = 0.15f;                            ///< roughness below which a mirror shows what it mirrors
constexpr int describedThrough = 3;                        ///< smooth bounces behind which the noise filter still looks
constexpr float wavelength[3] = {0.630f, 0.532f, 0.467f};  ///< micrometres, of the colours that a path may be parted into

float powerRule(float mine, float other) { return mine * mine / std::max(mine * mine + other * other, 1e-30f); }
/// Between the refractions of the F and C lines, by Cauchy's formula; dispersion is 20 divided by the Abbe number.
float partedIor(const Material& m, int channel) {
    if (channel < 0 || m.dispersion <= 0) return m.ior;
    constexpr float f = 0.4861f, d = 0.5876f, c = 0.6563f;
    const float slope = (m.ior - 1) * m.dispersion / 20 / (1 / (f * f) - 1 / (c * c));
    const float w = wavelength[channel];
    return std::max(1.0f, m.ior + slope * (1 / (w * w) - 1 / (d * d)));
}

vec3 rimLight(const Material& m, float facing) { return m.rim > 0 ? m.rimColour * (m.rim * rimAt(m, facing)) : vec3(0); }

/// A path under way.
struct Path {
    const PathScene& scene;
    Sobol& numbers;
    float moment;
    PathLayers* layers;
    Sample sample{};
    vec3 share{1};
    float density = 0;       ///< of the last way, 0 where nothing else could have gone it
    bool spread = false;     ///< some way before was as good as any other
    bool scattered = false;  ///< some way before could have been gone by sampling lights
    bool glowAsked = false;  ///< the last of these looked for what glows, and since then it only went straight through
    int channel = -1;        ///< the one colour it carries, once colours part
    bool inside = false;
    vec3 attenuation{1};
    float attenuationDistance = 0;
    bool described = false;  ///< albedo and normal are known

    /// Returns what came of it.
    vec3 take(vec3 light, bool direct, const LightSource& from) {
        light *= share;
        const float most = mostIndirect / scene.setting.exposure, bright = largestOf(light);
        if (!direct && bright > most) light *= most / bright;
        sample.light += light;
        if (layers && layers->groupOf) layers->groups[static_cast<std::size_t>(layers->groupOf(from))] += light;
        return light;
    }

    /// What it meets in its direction, past what is partly opaque, and the lamps that shine on the way.
    Hit next(const vec3& from, const vec3& direction, Material& material, int bounce) {
        vec3 at = from;
        float gone = 0;
        Hit hit;
        for (int layer = 0; layer < mostLayers; ++layer) {
            hit = scene.world.cast(at, direction, moment);
            ++sample.rays;
            if (!hit.any) break;
            material = scene.world.materialAt(hit, -direction);
            const float opacity = hit.mesh ? scene.world.opacityAt(hit, material, -direction) : 1;
            if (opacity >= 1 || numbers.next() < opacity) break;
            at = hit.place;
            gone += hit.distance;
        }
        if (hit.any) hit.distance += gone;
        if (bounce > 0 && !scene.lamps.empty())
            for (const LampTree::Met& met : scene.lamps.meets(from, direction, hit.any ? hit.distance : farAway)) {
                const float weight = density > 0 ? powerRule(density, met.density) : scattered ? 0 : 1;
                take(met.light * weight, false, {LightSource::lamp, met.lamp});
            }
        return hit;
    }

    /// What is seen first asks every source far away, where they are few: most of the noise would be whom it asked.
    bool askedAll(bool direct) const { return scene.far.count() == 0 || (direct && scene.far.count() <= mostAsked); }

    void lightOf(const vec3& place, const Scattering& s, const vec3& a, const vec3& b, const vec3& n, int bounce) {
        const bool direct = bounce == 0;
        const auto shine = [&](const vec3& toward, const vec3& light, float lightDensity, float distance, const LightSource& from) {
            const Scattered found = evaluate(s, {glm::dot(toward, a), glm::dot(toward, b), glm::dot(toward, n)});
            if (largestOf(found.share * light) <= 0) return;
            const float weight = lightDensity > 0 ? powerRule(lightDensity, found.density) : 1;
            ++sample.rays;
            take(found.share * light * weight * scene.world.reaching(place, toward, distance, moment), direct, from);
        };
        const auto shineFrom = [&](int source, float chance) {
            const float u = numbers.next(), v = numbers.next();
            const FarWay way = scene.far.sample(source, u, v);
            if (way.density > 0)
                shine(way.direction, way.light / (way.density * chance), way.density * chance, farAway, {LightSource::far, source});
        };
        numbers.together();
        if (askedAll(direct)) {
            for (int source = 0; source < scene.far.count(); ++source) shineFrom(source, 1);
        } else {
            const int source = scene.far.pick(numbers.next());
            shineFrom(source, scene.far.chanceOf(source));
        }
        if (bounce < glowBounces && !scene.glow.empty()) {
            numbers.together();
            const float choose = numbers.next(), triangle = numbers.next(), u = numbers.next(), v = numbers.next();
            const GlowLight glow = scene.glow.sample(place, choose, triangle, u, v);
            if (largestOf(glow.light) > 0)
                shine(glow.direction, glow.light, glow.density, glow.distance * (1 - 1e-4f), {LightSource::surface});
        }
        if (scene.lamps.empty()) return;
        numbers.together();
        const float choose = numbers.next(), u = numbers.next(), v = numbers.next();
        const LampLight lamp = scene.lamps.sample(place, choose, u, v);
        if (largestOf(lamp.light) > 0)
            shine(lamp.direction, lamp.light, lamp.density, lamp.distance * (1 - 1e-4f), {LightSource::lamp, lamp.lamp});
    }

    /// What the noise filter tells surfaces apart by: of what mirrors or lets light through smoothly, what is seen by it.
    void describe(const Scattering& s, const vec3& normal, int bounce) {
        const Material& m = s.material;
        const bool mirrors = m.roughness < smooth && (m.metal > 0.5f || (m.body != MaterialBody::opaque && m.transmission > 0.5f));
        if (described || (mirrors && bounce < describedThrough)) return;
        described = true;
        const vec3 own = glm::mix(s.colour, vec3(1), m.metal < 0.5f ? s.dielectric * 0.5f : 0.0f);
        sample.albedo = share * glm::mix(own, vec3(1), m.coat * 0.04f);
        sample.normal = normal;
    }

    /// How much of what a surface gives of itself counts where a way met it: the rest comes by those who looked for it, who also look
    /// straight through.
    float glowShare(const Hit& hit, const vec3& from, const vec3& direction) const {
        const float asked = hit.mesh && glowAsked ? scene.glow.densityOf(hit, from, direction) : 0;
        if (asked <= 0) return 1;
        return density > 0 ? powerRule(density, asked) : 0;
    }

    /// The light of what is far away.
    void escape(const vec3& direction, int bounce) {
        if (bounce == 0) return;  // the background comes after
        take(skyFrom(scene.setting.light, direction), !scattered, {LightSource::sky});
        const bool all = askedAll(bounce == 1);
        for (int source = 0; source < scene.far.count(); ++source) {
            const FarWay way = scene.far.met(source, direction);
            if (way.density <= 0) continue;
            const float asked = way.density * (all ? 1 : scene.far.chanceOf(source));
            take(way.light * (density > 0 ? powerRule(density, asked) : scattered ? 0 : 1), false, {LightSource::far, source});
        }
    }
};

}  // namespace

Sample tracePath(const PathScene& scene, const Lens::Ray& first, float moment, Sobol& numbers, PathLayers* layers) {
    vec3 from = first.from, direction = first.direction;
    Path path{scene, numbers, moment, layers};
    if (layers) {
        layers->first = {};
        layers->emission = vec3(0);
        std::fill(layers->groups.begin(), layers->groups.end(), vec3(0));
    }
    for (int bounce = 0; bounce <= mostBounces; ++bounce) {
        Material material;
        const Hit hit = path.next(from, direction, material, bounce);
        if (!hit.any || (bounce == 0 && hit.distance > first.ends)) {
            path.escape(direction, bounce);
            break;
        }
        if (path.inside && path.attenuationDistance > 0)
            path.share *= glm::pow(glm::max(path.attenuation, vec3(1e-6f)), vec3(hit.distance / path.attenuationDistance));
        const vec3 view = -direction;
        const bool behind = glm::dot(hit.flat, view) < 0;
        vec3 n = hit.normal, flat = hit.flat;
        if (behind) n = -n, flat = -flat;
        // A smoothed normal may turn away from what is seen.
        if (glm::dot(n, view) < 0.01f) n = glm::normalize(n + flat * (0.02f + std::max(0.0f, -glm::dot(n, view))));
        const vec3 glow = glowOf(material) * path.glowShare(hit, from, direction);
        const vec3 own = path.take(glow + rimLight(material, glm::dot(n, view)), bounce == 0, {LightSource::surface});
        if (layers && bounce == 0) {
            layers->first = hit;
            layers->emission = own;
        }

        // What is mirrored behind a matt bounce is seen by chance alone: a little softer it leaves no specks.
        if (path.spread) {
            material.roughness = std::max(material.roughness, leastSpread);
            material.coatRoughness = std::max(material.coatRoughness, leastSpread);
        }
        vec3 a, b;
        basis(n, a, b);
        Scattering s;
        s.material = material;
        s.colour = vec3(material.colour);
        s.view = {glm::dot(view, a), glm::dot(view, b), glm::dot(view, n)};
        s.inside = behind && material.body == MaterialBody::solid && material.transmission > 0;
        if (material.body == MaterialBody::solid && material.dispersion > 0 && path.channel < 0) {
            path.channel = std::min(2, static_cast<int>(numbers.next() * 3));
            vec3 one(0);
            one[path.channel] = 3;
            path.share *= one;
        }
        s.ior = partedIor(material, path.channel);
        prepare(s);

        if (bounce == 0) {
            path.sample.coverage = 1;
            path.sample.id = hit.mesh ? hit.number + 1 : 0;
            if (!hit.mesh) {
                // The floor fades into the background, so that it has no edge.
                const Camera& camera = scene.setting.camera;
                const float distance = glm::length(hit.place - camera.target), reach = glm::length(camera.position - camera.target);
                path.sample.coverage = 1 - std::clamp((distance - reach) / (3 * reach + 1e-3f), 0.0f, 1.0f);
                path.share *= path.sample.coverage;
            }
            path.sample.depth = (hit.distance + first.begun) * path.sample.coverage;
        }
        path.describe(s, n, bounce);
        const vec3 outside = hit.place + flat * 1e-4f;
        path.lightOf(outside, s, a, b, n, bounce);
        if (bounce == mostBounces) break;

        numbers.together();
        const float choose = numbers.next(), u = numbers.next(), v = numbers.next();
        const WayOn way = sample(s, choose, u, v);
        if (largestOf(way.share) <= 0) break;
        path.share *= way.share;
        direction = glm::normalize(a * way.direction.x + b * way.direction.y + n * way.direction.z);
        if (glm::dot(direction, flat) * (way.through ? -1.0f : 1.0f) <= 0) {
            // The smooth surface sends it where the flat one is in the way: along the face instead.
            direction = glm::normalize(direction - flat * (glm::dot(direction, flat) * (1 + 1e-3f)));
            direction = glm::normalize(direction + flat * (way.through ? -1e-3f : 1e-3f));
        }
        path.density = way.density;
        path.scattered = path.scattered || way.density > 0;
        path.glowAsked = way.density > 0 ? bounce < glowBounces : path.glowAsked && way.through;
        path.spread = path.spread || (way.density > 0 && way.density < mattDensity);
        if (way.through && material.body == MaterialBody::solid) {
            path.inside = !behind;
            path.attenuation = material.attenuationColour;
            path.attenuationDistance = material.attenuationDistance;
        }
        from = way.through ? hit.place - flat * 1e-4f : outside;
        if (bounce >= firstRoulette) {
            const float goesOn = std::clamp(largestOf(path.share), 0.1f, bounce < certainBounces ? 1.0f : 0.95f);
            if (numbers.next() >= goesOn) break;
            path.share /= goesOn;
        }
    }
    return path.sample;
}

}  // namespace gswarm
