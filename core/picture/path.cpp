#include "core/picture/path.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>
#include <numeric>
#include <utility>

#include "core/picture/bsdf.h"
#include "core/picture/largest.h"

namespace gswarm {
namespace {

using glm::vec3;

static_assert(placesTogether == raysTogether);

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

/// What a surface takes numbers for, each a group of its own; sources far away that are asked one by one from `forFar` on. Those before
/// are the camera's.
enum Purpose : std::uint32_t { forWay, forGlow, forLamp, forFar, purposes = forFar + mostAsked };
std::uint32_t groupOf(int bounce, std::uint32_t purpose) {
    return PathWave::cameraGroups + static_cast<std::uint32_t>(bounce) * purposes + purpose;
}

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

/// How much of what a lamp or something far away sends counts where a way met it: the rest comes by those who looked for it.
float metShare(float density, float asked, bool scattered) { return density > 0 ? powerRule(density, asked) : scattered ? 0 : 1; }

}  // namespace

/// A path under way, and the place where it is.
struct PathWave::Path {
    const PathScene* scene = nullptr;
    Sobol* numbers = nullptr;
    Sample* sample = nullptr;
    PathLayers* layers = nullptr;
    WorldRay ray;
    float begun = 0, ends = farAway;  ///< of its start
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

    Hit hit{};
    Material material{};
    vec3 normal{0}, flat{0};  ///< on the side that it came from
    bool behind = false;      ///< that is the back of the face

    void begin(PathStart& from, Sample& to, PathLayers* told) {
        numbers = &from.numbers;
        sample = &to;
        layers = told;
        ray = {from.ray.from, from.ray.direction, from.moment};
        begun = from.ray.begun, ends = from.ray.ends;
        share = vec3(1);
        density = 0;
        spread = scattered = glowAsked = inside = described = false;
        channel = -1;
        attenuationDistance = 0;
    }

    /// Returns what came of it.
    vec3 take(vec3 light, bool direct, const LightSource& from) {
        light *= share;
        const float most = mostIndirect / scene->setting.exposure, bright = largestOf(light);
        if (!direct && bright > most) light *= most / bright;
        sample->light += light;
        if (layers && layers->groupOf) layers->groups[static_cast<std::size_t>(layers->groupOf(from))] += light;
        return light;
    }

    vec3 outside() const { return hit.place + flat * 1e-4f; }

    /// What the noise filter tells surfaces apart by: of what mirrors or lets light through smoothly, what is seen by it.
    void describe(float dielectric, int bounce) {
        const Material& m = material;
        const bool mirrors = m.roughness < smooth && (m.metal > 0.5f || (m.body != MaterialBody::opaque && m.transmission > 0.5f));
        if (described || (mirrors && bounce < describedThrough)) return;
        described = true;
        const vec3 own = glm::mix(vec3(m.colour), vec3(1), m.metal < 0.5f ? dielectric * 0.5f : 0.0f);
        sample->albedo = share * glm::mix(own, vec3(1), m.coat * 0.04f);
        sample->normal = normal;
    }

    /// How much of what a surface gives of itself counts where a way met it: the rest comes by those who looked for it, who also look
    /// straight through.
    float glowShare() const {
        const float asked = hit.mesh && glowAsked ? scene->glow.densityOf(hit, ray.from, ray.direction) : 0;
        if (asked <= 0) return 1;
        return density > 0 ? powerRule(density, asked) : 0;
    }

    /// What is seen first: its layers, and how the floor fades into the background, so that it has no edge.
    void see(const vec3& own) {
        if (layers) layers->first = hit, layers->emission = own;
        sample->coverage = 1;
        sample->id = hit.mesh ? hit.number + 1 : 0;
        if (!hit.mesh) {
            const Camera& camera = scene->setting.camera;
            const float distance = glm::length(hit.place - camera.target), reach = glm::length(camera.position - camera.target);
            sample->coverage = 1 - std::clamp((distance - reach) / (3 * reach + 1e-3f), 0.0f, 1.0f);
            share *= sample->coverage;
        }
        sample->depth = (hit.distance + begun) * sample->coverage;
    }
};

/// Paths whose surfaces are worked out together.
struct PathWave::Block {
    /// A light that a surface asks.
    struct LightWay {
        vec3 light{0};  ///< divided by the density
        float density = 0;
        float distance = farAway;  ///< that nothing may be in the way
        int source = 0;
    };
    Paths paths;
    Scattering surfaces;
    FarWays far;
    VectorLanes toward;  ///< the lights asked
    std::array<LightWay, placesTogether> ways;
    Scattered found;
    SobolLanes numbers;
    std::array<NumberLanes, 4> drawn;
    WaysOn on;

    /// So many for each of them.
    void draw(int bounce, std::uint32_t purpose, std::size_t count) {
        numbers.group(groupOf(bounce, purpose), std::span(drawn).first(count));
    }
};

PathWave::PathWave(const PathScene& scene) : scene_(scene), paths_(most), block_(std::make_unique<Block>()) {
    for (Path& path : paths_) path.scene = &scene_;
}
PathWave::~PathWave() = default;

/// What is seen first asks every source far away, where they are few: most of the noise would be whom it asked.
bool PathWave::askedAll(bool direct) const { return direct && scene_.far.count() <= mostAsked; }

void PathWave::trace(std::span<PathStart> starts, std::span<Sample> samples, std::span<PathLayers> layers) {
    live_.clear();
    for (std::size_t k = 0; k < starts.size(); ++k) {
        samples[k] = {};
        PathLayers* const told = layers.empty() ? nullptr : &layers[k];
        if (told) {
            told->first = {};
            told->emission = vec3(0);
            std::fill(told->groups.begin(), told->groups.end(), vec3(0));
        }
        paths_[k].begin(starts[k], samples[k], told);
        live_.push_back(&paths_[k]);
    }
    for (int bounce = 0; bounce <= mostBounces && !live_.empty(); ++bounce) {
        meet(bounce);
        for (std::size_t at = 0; at < live_.size(); at += placesTogether) {
            block_->paths = Paths(live_).subspan(at, std::min<std::size_t>(placesTogether, live_.size() - at));
            arrive(*block_, bounce);
            askLights(*block_, bounce);
            if (bounce < mostBounces) goOn(*block_, bounce);
        }
        std::erase(live_, nullptr);
    }
}

/// Leaves those that meet a surface.
void PathWave::meet(int bounce) {
    std::array<WorldRay, raysTogether> rays;
    std::array<Hit*, raysTogether> hits;
    for (std::size_t at = 0; at < live_.size(); at += raysTogether) {
        const std::size_t count = std::min(raysTogether, live_.size() - at);
        for (std::size_t k = 0; k < count; ++k) rays[k] = live_[at + k]->ray, hits[k] = &live_[at + k]->hit;
        // Those of neighbours in a picture go alike; later ones are scattered.
        scene_.world.cast({rays.data(), count}, bounce == 0, hits);
    }
    left_.clear();
    for (Path*& path : live_)
        if (leaves(*path, bounce)) left_.push_back(std::exchange(path, nullptr));
    std::erase(live_, nullptr);
    // What is behind what is seen first comes after.
    for (std::size_t at = 0; bounce > 0 && at < left_.size(); at += placesTogether)
        escape(Paths(left_).subspan(at, std::min<std::size_t>(placesTogether, left_.size() - at)), bounce);
}

/// The light of what is far away.
void PathWave::escape(Paths paths, int bounce) {
    const bool all = askedAll(bounce == 1);
    VectorLanes directions;
    std::array<int, placesTogether> places;
    std::iota(places.begin(), places.end(), 0);
    for (std::size_t k = 0; k < paths.size(); ++k) {
        Path& path = *paths[k];
        directions.put(static_cast<int>(k), path.ray.direction);
        path.take(skyFrom(scene_.setting.light, path.ray.direction), !path.scattered, {LightSource::sky});
    }
    FarWays& far = block_->far;
    for (int source = 0; source < scene_.far.count(); ++source) {
        scene_.far.met(source, {places.data(), paths.size()}, directions, far);
        for (std::size_t k = 0; k < paths.size(); ++k) {
            Path& path = *paths[k];
            const float density = far.density[static_cast<int>(k)];
            if (density <= 0) continue;
            const float share = metShare(path.density, density * (all ? 1 : scene_.far.chanceOf(source)), path.scattered);
            path.take(far.light[k] * share, false, {LightSource::far, source});
        }
    }
}

/// Whether it leaves the world: past what is partly opaque, and the lamps that shine on the way.
bool PathWave::leaves(Path& path, int bounce) const {
    const WorldRay& ray = path.ray;
    Hit& hit = path.hit;
    float gone = 0;
    ++path.sample->rays;
    for (int layer = 1; hit.any; ++layer) {
        path.material = scene_.world.materialAt(hit, -ray.direction);
        const float opacity = hit.mesh ? scene_.world.opacityAt(hit, path.material, -ray.direction) : 1;
        if (opacity >= 1 || layer == mostLayers || path.numbers->next() < opacity) break;
        gone += hit.distance;
        hit = scene_.world.cast(hit.place, ray.direction, ray.time);
        ++path.sample->rays;
    }
    hit.distance += gone;
    if (bounce > 0 && !scene_.lamps.empty())
        for (const LampTree::Met& met : scene_.lamps.meets(ray.from, ray.direction, hit.any ? hit.distance : farAway))
            path.take(met.light * metShare(path.density, met.density, path.scattered), false, {LightSource::lamp, met.lamp});
    return !hit.any || (bounce == 0 && hit.distance > path.ends);
}

/// What the surfaces give of themselves, and how they scatter.
void PathWave::arrive(Block& block, int bounce) {
    for (int k = 0; k < static_cast<int>(block.paths.size()); ++k) {
        Path& path = *block.paths[static_cast<std::size_t>(k)];
        const Hit& hit = path.hit;
        Material& material = path.material;
        if (path.inside && path.attenuationDistance > 0)
            path.share *= glm::pow(glm::max(path.attenuation, vec3(1e-6f)), vec3(hit.distance / path.attenuationDistance));
        const vec3 view = -path.ray.direction;
        path.behind = glm::dot(hit.flat, view) < 0;
        path.normal = path.behind ? -hit.normal : hit.normal;
        path.flat = path.behind ? -hit.flat : hit.flat;
        // A smoothed normal may turn away from what is seen.
        if (const float facing = glm::dot(path.normal, view); facing < 0.01f)
            path.normal = glm::normalize(path.normal + path.flat * (0.02f + std::max(0.0f, -facing)));
        vec3 own(0);
        if (material.glows()) {
            own = glowOf(material) * path.glowShare() + rimLight(material, glm::dot(path.normal, view));
            own = path.take(own, bounce == 0, {LightSource::surface});
        }
        if (bounce == 0) path.see(own);
        // What is mirrored behind a matt bounce is seen by chance alone: a little softer it leaves no specks.
        if (path.spread) {
            material.roughness = std::max(material.roughness, leastSpread);
            material.coatRoughness = std::max(material.coatRoughness, leastSpread);
        }
        const bool solid = material.body == MaterialBody::solid;
        if (solid && material.dispersion > 0 && path.channel < 0) {
            path.channel = std::min(2, static_cast<int>(path.numbers->next() * 3));
            vec3 one(0);
            one[path.channel] = 3;
            path.share *= one;
        }
        block.numbers.put(k, *path.numbers);
        Scattering& s = block.surfaces;
        s.put(k, material);
        s.normal.put(k, path.normal);
        s.view.put(k, view);
        s.inside[k] = path.behind && solid && material.transmission > 0 ? 1 : 0;
        s.ior[k] = partedIor(material, path.channel);
    }
    prepare(block.surfaces);
    for (int k = 0; k < static_cast<int>(block.paths.size()); ++k)
        block.paths[static_cast<std::size_t>(k)]->describe(block.surfaces.dielectric[k], bounce);
}

void PathWave::askLights(Block& block, int bounce) {
    const bool direct = bounce == 0;
    const auto count = block.paths.size();
    const auto& drawn = block.drawn;
    std::array<int, placesTogether> places;
    const auto ask = [&](int source, std::size_t many, float chance) {
        scene_.far.sample(source, {places.data(), many}, drawn[0], drawn[1], block.far);
        for (std::size_t n = 0; n < many; ++n) {
            const int k = places[n];
            const auto at = static_cast<std::size_t>(k);
            const float density = block.far.density[k] * chance;
            block.toward.put(k, block.far.direction.at(k));
            block.ways[at] = {density > 0 ? block.far.light[at] / density : vec3(0), density, farAway, source};
        }
    };
    if (askedAll(direct)) {
        std::iota(places.begin(), places.end(), 0);
        for (int source = 0; source < scene_.far.count(); ++source) {
            block.draw(bounce, forFar + static_cast<std::uint32_t>(source), 2);
            ask(source, count, 1);
            shine(block, LightSource::far, direct);
        }
    } else if (scene_.far.count() > 0) {
        block.draw(bounce, forFar, 3);
        for (int source = 0; source < scene_.far.count(); ++source) {
            std::size_t many = 0;
            for (std::size_t k = 0; k < count; ++k)
                if (scene_.far.pick(drawn[2][static_cast<int>(k)]) == source) places[many++] = static_cast<int>(k);
            if (many > 0) ask(source, many, scene_.far.chanceOf(source));
        }
        shine(block, LightSource::far, direct);
    }
    const auto near = [&](int k, const auto& light, int source) {
        block.toward.put(k, light.direction);
        block.ways[static_cast<std::size_t>(k)] = {light.light, light.density, light.distance * (1 - 1e-4f), source};
    };
    if (bounce < glowBounces && !scene_.glow.empty()) {
        block.draw(bounce, forGlow, 4);
        for (int k = 0; k < static_cast<int>(count); ++k) {
            const vec3 place = block.paths[static_cast<std::size_t>(k)]->outside();
            near(k, scene_.glow.sample(place, drawn[0][k], drawn[1][k], drawn[2][k], drawn[3][k]), 0);
        }
        shine(block, LightSource::surface, direct);
    }
    if (scene_.lamps.empty()) return;
    block.draw(bounce, forLamp, 3);
    for (int k = 0; k < static_cast<int>(count); ++k) {
        const vec3 place = block.paths[static_cast<std::size_t>(k)]->outside();
        const LampLight light = scene_.lamps.sample(place, drawn[0][k], drawn[1][k], drawn[2][k]);
        near(k, light, light.lamp);
    }
    shine(block, LightSource::lamp, direct);
}

/// Takes what comes of the lights asked, past what is in between.
void PathWave::shine(Block& block, LightSource::Kind kind, bool direct) {
    const auto count = block.paths.size();
    evaluate(block.surfaces, block.toward, block.found);
    std::array<WorldRay, raysTogether> rays;
    std::array<vec3, raysTogether> light, reaching;
    std::array<std::size_t, raysTogether> whose;
    std::size_t asked = 0;
    for (std::size_t k = 0; k < count; ++k) {
        const Block::LightWay& way = block.ways[k];
        const vec3 seen = block.found.share.at(static_cast<int>(k)) * way.light;
        if (largestOf(seen) <= 0) continue;
        Path& path = *block.paths[k];
        const float weight = way.density > 0 ? powerRule(way.density, block.found.density[static_cast<int>(k)]) : 1;
        light[asked] = seen * weight;
        rays[asked] = {path.outside(), block.toward.at(static_cast<int>(k)), path.ray.time, way.distance};
        whose[asked++] = k;
        ++path.sample->rays;
    }
    if (asked == 0) return;
    scene_.world.reaching({rays.data(), asked}, reaching);
    for (std::size_t k = 0; k < asked; ++k)
        block.paths[whose[k]]->take(light[k] * reaching[k], direct, {kind, block.ways[whose[k]].source});
}

/// Sends each on, or ends it: what has ended is gone from the live ones.
void PathWave::goOn(Block& block, int bounce) {
    const auto count = block.paths.size();
    const bool byChance = bounce >= firstRoulette;
    block.draw(bounce, forWay, byChance ? 4 : 3);
    sample(block.surfaces, block.drawn[0], block.drawn[1], block.drawn[2], block.on);
    const auto goesOn = [&](Path& path, int k) {
        const vec3 share = block.on.share.at(k);
        if (largestOf(share) <= 0) return false;
        const float density = block.on.density[k];
        const bool through = block.on.through[k] > 0;
        vec3 direction = block.on.direction.at(k);
        const vec3& flat = path.flat;
        path.share *= share;
        if (glm::dot(direction, flat) * (through ? -1.0f : 1.0f) <= 0) {
            // The smooth surface sends it where the flat one is in the way: along the face instead.
            direction = glm::normalize(direction - flat * (glm::dot(direction, flat) * (1 + 1e-3f)));
            direction = glm::normalize(direction + flat * (through ? -1e-3f : 1e-3f));
        }
        path.density = density;
        path.scattered = path.scattered || density > 0;
        path.glowAsked = density > 0 ? bounce < glowBounces : path.glowAsked && through;
        path.spread = path.spread || (density > 0 && density < mattDensity);
        if (through && path.material.body == MaterialBody::solid) {
            path.inside = !path.behind;
            path.attenuation = path.material.attenuationColour;
            path.attenuationDistance = path.material.attenuationDistance;
        }
        path.ray.from = through ? path.hit.place - flat * 1e-4f : path.outside();
        path.ray.direction = direction;
        if (!byChance) return true;
        const float chance = std::clamp(largestOf(path.share), 0.1f, bounce < certainBounces ? 1.0f : 0.95f);
        if (block.drawn[3][k] >= chance) return false;
        path.share /= chance;
        return true;
    };
    const std::size_t first = static_cast<std::size_t>(block.paths.data() - live_.data());
    for (std::size_t k = 0; k < count; ++k)
        if (!goesOn(*block.paths[k], static_cast<int>(k))) live_[first + k] = nullptr;
}

}  // namespace gswarm
