#include "live/gathered.h"

#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"
#include "core/shape/shape_kind.h"
#include "live/closed_sides.h"
#include "live/look_uniforms.h"
#include "live/nested.h"

namespace gswarm::live {
namespace {

constexpr std::size_t together = 4096;

/// An opaque instance that may be in the picture.
struct Seen {
    float depth;
    std::uint32_t row, colour;
    bool fromOutside;
};

struct Part {
    std::array<std::vector<Seen>, detailLevels> seen;
    std::vector<SeeThrough> later;
};

/// Of the upper left of an instance's matrix, whose rows have four numbers.
bool mirrors(const float* m) {
    return m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]) < 0;
}

}  // namespace

Differing::Differing(const Look& look, const Result& result, bool on)
    : result_(result),
      mix_(on && look.mix && !differsOverSurface(*look.mix) ? look.mix.get() : nullptr),
      shown_(on ? shownOn(look) : nullptr) {}

Differing::Of Differing::of(std::uint32_t row, std::uint32_t colour) const {
    if (!mix_ && !shown_) return {colour, 0, {}};
    const LookedAt at = lookedAt(result_, row);
    Of made{colour, mix_ ? mixAt(*mix_, at) : 0, {}};
    if (!shown_) return made;
    const ShownWhich which = whichOf(*shown_, at);
    made.place = placeOnSheet(*shown_, which);
    if (!shown_->tints.empty()) made.colour = encodedColour(linearColour(colour) * glm::vec4(tintOf(*shown_, which), 1));
    return made;
}

void Differing::enlarge(Batch& batch, std::size_t count) const {
    batch.matrices.resize(12 * count);
    batch.colours.resize(count);
    if (mix_) batch.mixes.resize(count);
    if (shown_) batch.places.resize(count);
}

void Differing::put(Batch& batch, std::size_t at, const Of& instance) const {
    batch.colours[at] = instance.colour;
    if (mix_) batch.mixes[at] = instance.mix;
    if (shown_) batch.places[at] = instance.place;
}

int levelFor(float radius, bool fine) {
    const int level = radius > 40 ? 0 : radius > 9 ? 1 : 2;
    return std::min(level + (fine ? 0 : 1), detailLevels - 1);
}

std::array<Batch, detailLevels> gathered(const Gathering& g, const Surface& surface, const Look& look, std::vector<SeeThrough>& later) {
    const Result& result = *surface.swarm;
    const glm::mat4 toClip = g.toClip * surface.pose;
    const float radius = glm::length(surface.meshes->bounds.size()) * 0.5f * scaleOf(surface.pose);
    // How far it reaches from its own origin, as a share of that.
    const float reach = 1 + glm::length(surface.meshes->bounds.centre()) * scaleOf(surface.pose) / std::max(radius, 1e-20f);
    const float cut = g.picture.setting.camera.nearCut;
    const bool recoloured = isRecoloured(g.picture, surface);
    const ResultColumns& columns = *result.columns;
    const bool clear = !recoloured && seesThrough(look);
    const Differing differing(look, result, !recoloured);
    const auto rows = surface.instances();
    std::vector<Part> parts((rows.size() + together - 1) / together);
    forEach(parts.size(), [&](std::size_t p) {
        Part& part = parts[p];
        const std::size_t end = std::min(rows.size(), (p + 1) * together);
        for (std::size_t k = p * together; k < end; ++k) {
            const std::size_t i = rows[k];
            const float* m = &columns.matrix[12 * i];
            const glm::vec4 clip = toClip * glm::vec4(m[3], m[7], m[11], 1);
            const float size =
                radius * std::max({std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]), std::abs(m[1]) + std::abs(m[5]) + std::abs(m[9])});
            if (clip.w < -size || std::abs(clip.x) > clip.w + 4 * size || std::abs(clip.y) > clip.w + 6 * size) continue;
            const std::uint32_t colour = recoloured ? g.picture.colours[i] : columns.colour[i];
            const float away = g.parallel ? 1 : std::max(clip.w, 0.01f), depth = g.parallel ? clip.z : clip.w;
            if (std::isnan(depth)) continue;  // what is no number can't be sorted
            const int level = levelFor(size * g.pixelsAtOneMetre / away, g.picture.steps.fineMeshes);
            const auto row = static_cast<std::uint32_t>(i);
            if ((colour >> 24 == 255 && !clear) || g.ghost) {
                const bool fromOutside = !g.parallel && clip.w > size * reach + cut && !mirrors(m);
                part.seen[static_cast<std::size_t>(level)].push_back({depth, row, colour, fromOutside});
            } else if (colour >> 24 != 0 || clear) {
                const Differing::Of own = differing.of(row, colour);
                part.later.push_back({depth, &surface, level, row, own.colour, own.mix, own.place});
            }
        }
    });
    std::array<Batch, detailLevels> batches;
    for (std::size_t level = 0; level < batches.size(); ++level) {
        std::vector<Seen> seen;
        for (const Part& part : parts) seen.insert(seen.end(), part.seen[level].begin(), part.seen[level].end());
        // What the nearest hide need not be lit. Of those that are as far the last lies on top.
        tbb::parallel_sort(seen, [](const Seen& one, const Seen& other) {
            return one.depth != other.depth ? one.depth < other.depth : one.row < other.row;
        });
        Batch& batch = batches[level];
        differing.enlarge(batch, seen.size());
        batch.fromOutside = std::all_of(seen.begin(), seen.end(), [](const Seen& one) { return one.fromOutside; });
        forRanges(seen.size(), 1024, [&](std::size_t begin, std::size_t end) {
            for (std::size_t k = begin; k < end; ++k) {
                leafMatrix(surface.pose, &columns.matrix[12 * std::size_t{seen[k].row}], 1, &batch.matrices[12 * k]);
                differing.put(batch, k, differing.of(seen[k].row, seen[k].colour));
            }
        });
    }
    for (const Part& part : parts) later.insert(later.end(), part.later.begin(), part.later.end());
    if (!g.ghost) closeSides(batches, surface.meshes->bounds);
    return batches;
}

}  // namespace gswarm::live
