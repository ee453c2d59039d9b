#include "core/picture/trace.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cmath>
#include <new>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/picture/filter.h"
#include "core/picture/lens.h"
#include "core/picture/motion.h"
#include "core/picture/path.h"
#include "core/picture/refinement.h"
#include "core/picture/sobol.h"

namespace gswarm {

using glm::vec3;

namespace {

/// Samples far above what a screen shows count as this in what is told of noise, times 1 / exposure.
constexpr float brightest = 4;

/// A pixel, and which of its samples.
struct Place {
    int x, y;
    std::uint32_t sample = 0;
};

/// Its pixels in squares of four by four, whose rays go alike.
std::vector<Place> neighboursIn(const PixelRect& part) {
    constexpr int side = 4;
    std::vector<Place> order;
    for (int y = 0; y < part.height; y += side)
        for (int x = 0; x < part.width; x += side)
            for (int v = y; v < std::min(y + side, part.height); ++v)
                for (int u = x; u < std::min(x + side, part.width); ++u) order.push_back({part.x + u, part.y + v});
    return order;
}

/// The groups of all sources, by what a path tells of them.
std::function<int(const LightSource&)> groupsOf(const PathScene& scene, const Layering& layering) {
    const auto group = [&](ObjectId of) {
        const auto found = layering.groupOf.find(of);
        return found == layering.groupOf.end() ? 0 : found->second;
    };
    std::vector<int> far, lamps;
    for (int source = 0; source < scene.far.count(); ++source) far.push_back(group(scene.far.of(source)));
    for (int lamp = 0; lamp < scene.lamps.count(); ++lamp) lamps.push_back(group(scene.lamps.of(lamp)));
    return [far, lamps, sky = layering.skyGroup](const LightSource& source) {
        switch (source.kind) {
            case LightSource::sky:
                return sky;
            case LightSource::far:
                return far[static_cast<std::size_t>(source.number)];
            case LightSource::lamp:
                return lamps[static_cast<std::size_t>(source.number)];
            default:
                return 0;
        }
    };
}

void addTo(std::vector<FilmLayers::Covers>& all, std::uint32_t thing, float coverage) {
    for (FilmLayers::Covers& one : all)
        if (one.thing == thing) {
            one.coverage += coverage;
            return;
        }
    all.push_back({thing, coverage});
}

/// Adds a sample's layers at a pixel.
void addTo(FilmLayers& film, std::size_t i, const Sample& sample, const PathLayers& layers, const Motion* motion) {
    for (std::size_t g = 0; g < film.groups.size(); ++g) film.groups[g][i] += layers.groups[g];
    if (!layers.first.any) return;
    if (!film.emission.empty()) film.emission[i] += layers.emission;
    if (!film.place.empty()) film.place[i] += layers.first.place * sample.coverage;
    if (!film.motion.empty() && motion) film.motion[i] += motion->of(layers.first) * sample.coverage;
    if (!film.things.empty() && sample.coverage > 0)
        addTo(film.things[i], layers.first.mesh ? layers.first.number + 1 : FilmLayers::floorThing, sample.coverage);
}

}  // namespace

std::vector<PixelRect> tracedTiles(const PixelRect& part) {
    std::vector<PixelRect> tiles;
    for (int y = part.y; y < part.y + part.height; y += traceTile)
        for (int x = part.x; x < part.x + part.width; x += traceTile)
            tiles.push_back({x, y, std::min(traceTile, part.x + part.width - x), std::min(traceTile, part.y + part.height - y)});
    return tiles;
}

void addLayers(Film& film, const Layering& layering) {
    const std::size_t count = film.pixels.size();
    FilmLayers& layers = film.layers;
    try {
        if (layering.place) layers.place.resize(count);
        if (layering.motion) layers.motion.resize(count);
        if (layering.emission) layers.emission.resize(count);
        if (layering.things) layers.things.resize(count);
        layers.groups.assign(static_cast<std::size_t>(layering.lightGroups), std::vector<vec3>(count));
    } catch (const std::bad_alloc&) {
        throw Error("There is not enough memory for the layers of a picture of " + std::to_string(film.width) + " × " +
                    std::to_string(film.height) + " pixels; make it smaller or leave some out.");
    }
}

void checkTraceSize(const TraceSize& size) {
    if (size.width < 1 || size.height < 1 || size.width > 16384 || size.height > 16384)
        throw Error("A picture of " + std::to_string(size.width) + " × " + std::to_string(size.height) +
                    " can't be made; each side takes 1 to 16384 pixels.");
    if (size.samples < 1 || size.samples > Sobol::most)
        throw Error(std::to_string(size.samples) + " samples can't be taken; a pixel takes 1 to 4096.");
}

bool exposeAlike(const Shot& a, const Shot& b) {
    if (!standAlike(a.lists, b.lists)) return false;
    const auto seenAlike = [](const DrawList& one, const DrawList& other) {
        if (one.looks != other.looks || one.lamps != other.lamps) return false;
        for (std::size_t s = 0; s < one.surfaces.size(); ++s) {
            const Surface &mine = one.surfaces[s], &theirs = other.surfaces[s];
            if (mine.look != theirs.look || mine.colour != theirs.colour || mine.tint != theirs.tint) return false;
            if (mine.swarm == theirs.swarm) continue;
            if (mine.swarm->columns->colour != theirs.swarm->columns->colour || mine.swarm->columns->mixed != theirs.swarm->columns->mixed)
                return false;
        }
        return true;
    };
    return std::equal(a.lists.begin(), a.lists.end(), b.lists.begin(), seenAlike) &&
           std::equal(a.settings.begin(), a.settings.end(), b.settings.begin(), b.settings.end(),
                      [](const Setting& one, const Setting& other) {
                          return one.camera == other.camera && one.light == other.light && one.lamps == other.lamps;
                      });
}

struct Tracer::Shown {
    std::unique_ptr<TraceWorld> world;
    LampTree lamps;
    GlowLights glow;
};

Tracer::Tracer() : trees_(std::make_unique<MeshTrees>()) {}
Tracer::~Tracer() = default;

void Tracer::show(Shot shot, Progress& progress) {
    const Ground& ground = shot.setting().light.ground;
    // What is under way when it is cancelled is gone.
    std::unique_ptr<TraceWorld> world = shown_ ? std::move(shown_->world) : nullptr;
    shown_.reset();
    if (world && standAlike(shot_.lists, shot.lists)) {
        world->dress(shot.lists, ground);
    } else if (world && madeAlike(shot_.lists, shot.lists)) {
        world->move(shot.lists, ground, progress);
    } else {
        world.reset();
        world = std::make_unique<TraceWorld>(shot.lists, ground, *trees_, progress);
        trees_->forgetUnused();
    }
    // Moved, a list stays where the world knows it.
    shot_ = std::move(shot);
    LampTree lamps(allLamps(shot_.setting().lamps, shot_.lists[shot_.lists.size() / 2]));
    GlowLights glow(*world);
    shown_ = std::make_unique<Shown>(Shown{std::move(world), std::move(lamps), std::move(glow)});
}

std::int64_t Tracer::expose(Film& film, const PixelRect& part, const SampleCounts& wanted, const Progress& progress,
                            const std::function<void(double)>& report, const Layering& layering) const {
    const Setting& setting = shot_.setting();
    const Lens lens(shot_.settings, static_cast<float>(film.width) / static_cast<float>(film.height));
    const auto tiles = tracedTiles(part);
    const PathScene scene{*shown_->world, setting, shown_->lamps, shown_->glow, FarSampler(setting.light)};
    std::atomic<std::int64_t> rays{0};
    std::atomic<std::size_t> done{0};
    const float most = brightest / setting.exposure;
    const bool layered = film.layers.any();
    PathLayers none;
    if (!film.layers.groups.empty()) {
        none.groupOf = groupsOf(scene, layering);
        none.groups.resize(film.layers.groups.size());
    }
    const auto aim = [&](std::span<PathStart> starts, std::span<const Place> places) {
        SobolLanes sequences;
        std::array<NumberLanes, 2> inPixel;
        std::array<NumberLanes, 3> through;
        for (std::size_t first = 0; first < starts.size(); first += placesTogether) {
            const int count = static_cast<int>(std::min<std::size_t>(placesTogether, starts.size() - first));
            for (int k = 0; k < count; ++k) sequences.put(k, starts[first + static_cast<std::size_t>(k)].numbers);
            sequences.group(0, inPixel);
            sequences.group(1, through);
            for (int k = 0; k < count; ++k) {
                PathStart& start = starts[first + static_cast<std::size_t>(k)];
                const Place& place = places[first + static_cast<std::size_t>(k)];
                // The first goes through the middle, so that what lines are drawn by does not jump about.
                const bool middle = place.sample == 0;
                const float u = (static_cast<float>(place.x) + (middle ? 0.5f : inPixel[0][k])) / static_cast<float>(film.width) * 2 - 1;
                const float v = 1 - (static_cast<float>(place.y) + (middle ? 0.5f : inPixel[1][k])) / static_cast<float>(film.height) * 2;
                start.moment = through[0][k];
                start.ray = lens.through(u, v, start.moment, through[1][k], through[2][k]);
            }
        }
    };
    const auto add = [&](const Place& place, const Sample& sample, const PathLayers* layers) {
        Film::Pixel& pixel = film.at(place.x, place.y);
        if (layers) addTo(film.layers, static_cast<std::size_t>(&pixel - film.pixels.data()), sample, *layers, layering.motion);
        const float bright = std::min(luminanceOf(sample.light), most);
        if (std::has_single_bit(place.sample)) pixel.early = pixel.luminance;
        pixel.light += sample.light;
        pixel.coverage += sample.coverage;
        pixel.albedo += sample.albedo;
        pixel.normal += sample.normal;
        pixel.depth += sample.depth;
        pixel.luminance += bright;
        pixel.squares += bright * bright;
        if (place.sample == 0) pixel.id = sample.id;
        pixel.samples = place.sample + 1;
        return sample.rays;
    };
    std::vector<char> isDone(tiles.size());
    const auto tile = [&](std::size_t t) {
        // Held, none is begun: threads that all share don't wait.
        if (isDone[t] || progress.held()) return;
        std::int64_t took = 0;
        PathWave wave(scene);
        std::vector<Place> places;
        std::vector<PathStart> starts;
        std::vector<Sample> samples(PathWave::most);
        std::vector<PathLayers> layers(layered ? PathWave::most : 0, none);
        const auto order = neighboursIn(tiles[t]);
        const auto follow = [&] {
            aim(starts, places);
            wave.trace(starts, samples, layers);
            for (std::size_t k = 0; k < places.size(); ++k) took += add(places[k], samples[k], layered ? &layers[k] : nullptr);
            places.clear();
            starts.clear();
        };
        for (const Place& pixel : order) {
            const Sobol numbers(static_cast<std::uint32_t>(pixel.x), static_cast<std::uint32_t>(pixel.y), 0, wanted.seed);
            const Film::Pixel& has = film.at(pixel.x, pixel.y);
            const auto until =
                static_cast<std::uint32_t>(wanted.each.empty() ? wanted.samples : wanted.each[film.indexOf(pixel.x, pixel.y)]);
            for (std::uint32_t s = has.samples; s < until; ++s) {
                places.push_back({pixel.x, pixel.y, s});
                starts.push_back({{}, 0, numbers.of(s)});
                if (places.size() < PathWave::most) continue;
                if (progress.cancelled()) return;
                follow();
            }
        }
        follow();
        rays += took;
        isDone[t] = 1;
        ++done;
        if (report) report(static_cast<double>(done) / static_cast<double>(tiles.size()));
    };
    do {
        progress.check();
        forEach(tiles.size(), tile);
    } while (done < tiles.size() && !progress.cancelled());
    progress.check();
    return rays;
}

Film exposed(Tracer& tracer, Shot shot, const TraceSize& size, Progress& progress, const Layering& layering) {
    checkTraceSize(size);
    tracer.show(std::move(shot), progress);
    progress.say("tracing the picture");
    Refinement film(size, {0, 0, size.width, size.height}, layering);
    film.refine(tracer, size.samples, progress, [&](double share) { progress.report(share); });
    return std::move(film).take();
}

Image trace(Tracer& tracer, Shot shot, const TraceSize& size, Progress& progress) {
    const Film film = exposed(tracer, std::move(shot), size, progress);
    const Setting& setting = tracer.shot().setting();
    return finish(size.filtered ? filtered(film, progress) : developed(film), setting);
}

Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress) {
    Tracer tracer;
    return trace(tracer, Shot{{list}, {setting}}, size, progress);
}

}  // namespace gswarm
