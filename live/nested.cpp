#include "live/nested.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <tuple>

#include "core/base/parallel.h"
#include "core/scene/kind.h"
#include "core/shape/shape_kind.h"
#include "live/closed_sides.h"

namespace gswarm::live {
namespace {

/// Triangles: those of small things that are shaded one by one take a software renderer about a microsecond each.
constexpr double mostMoving = 0.12e6, mostResting = 1e6;
/// Leaves with a smaller radius are not all needed.
constexpr float smallestRadius = 0.75f;  // pixels

const float* matrixIn(const Surface& surface, std::size_t row) { return &surface.swarm->columns->matrix[12 * row]; }

float largest(const float* m) {
    return std::max({std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]), std::abs(m[1]) + std::abs(m[5]) + std::abs(m[9])});
}

/// Of a mesh, as its first instance shows it.
float leafRadius(const Surface& surface) {
    return glm::length(surface.meshes->bounds.size()) * 0.5f * scaleOf(surface.pose) *
           largest(matrixIn(surface, surface.instances().front()));
}

/// How many leaves of a surface are worth drawing.
double wanted(const Gathering& g, const Surface& surface) {
    const auto rows = surface.instances();
    const Bounds& places = surface.swarm->bounds;
    if (rows.empty() || places.empty()) return 0;
    const float leaf = leafRadius(surface);
    const float radius = glm::length(places.size()) * 0.5f * scaleOf(surface.pose) + leaf;
    const glm::vec4 clip = g.toClip * surface.pose * glm::vec4(places.centre(), 1);
    if (clip.w < -radius || std::abs(clip.x) > clip.w + 4 * radius || std::abs(clip.y) > clip.w + 6 * radius) return 0;
    const float away = g.parallel ? 1 : std::max(clip.w - radius, 0.01f);
    const double pixels = leaf * g.pixelsAtOneMetre / away / smallestRadius;
    return std::max(1.0, double(rows.size()) * std::min(1.0, pixels * pixels));
}

std::uint32_t tinted(std::uint32_t colour, const glm::vec4& encodedTint) {
    std::uint32_t out = 0;
    for (int c = 0; c < 4; ++c)
        out |= static_cast<std::uint32_t>(std::min(255.0f, static_cast<float>(colour >> (8 * c) & 255) * encodedTint[c] + 0.5f)) << (8 * c);
    return out;
}

/// What can be drawn by the same calls.
using Alike = std::tuple<const ShapeMeshes*, int, bool>;

Alike alikeOf(const Surface& surface) { return {surface.meshes.get(), surface.look, glm::determinant(glm::mat3(surface.pose)) < 0}; }

void gather(const Gathering& g, const Surface& surface, const Look& look, std::size_t stride, std::array<Batch, detailLevels>& batches,
            std::vector<SeeThrough>& later) {
    const auto rows = surface.instances();
    const float larger = std::sqrt(static_cast<float>(stride));
    const float radius = glm::length(surface.meshes->bounds.size()) * 0.5f * scaleOf(surface.pose);
    const glm::mat4 toClip = g.toClip * surface.pose;
    const bool plain = surface.tint == glm::vec4(1);
    // Of products of encoded colours: within 0.02 of the encoded product.
    glm::vec4 tint(1, 1, 1, surface.tint.w);
    for (int c = 0; c < 3; ++c) tint[c] = static_cast<float>(srgbFromLinear(double(surface.tint[c])));
    const bool recoloured = isRecoloured(g.picture, surface);
    const bool clear = !recoloured && seesThrough(look);
    const Differing differing(look, *surface.swarm, !recoloured);
    for (std::size_t k = 0; k < rows.size(); k += stride) {
        const std::size_t i = rows[k];
        const float* own = matrixIn(surface, i);
        const std::uint32_t bytes = surface.swarm->columns->colour[i];
        const std::uint32_t colour = recoloured ? g.picture.colours[surface.within.row] : plain ? bytes : tinted(bytes, tint);
        const glm::vec4 clip = toClip * glm::vec4(own[3], own[7], own[11], 1);
        const float away = g.parallel ? 1 : std::max(clip.w, 0.01f);
        const int level = levelFor(radius * largest(own) * g.pixelsAtOneMetre / away, g.picture.steps.fineMeshes);
        const Differing::Of leaf = differing.of(static_cast<std::uint32_t>(i), colour);
        if ((colour >> 24 != 255 || clear) && !g.ghost) {
            if (colour >> 24 != 0 || clear)
                later.push_back(
                    {g.parallel ? clip.z : clip.w, &surface, level, static_cast<std::uint32_t>(i), leaf.colour, leaf.mix, leaf.place});
            continue;
        }
        Batch& batch = batches[static_cast<std::size_t>(level)];
        const std::size_t at = batch.colours.size();
        differing.enlarge(batch, at + 1);
        leafMatrix(surface.pose, own, larger, &batch.matrices[12 * at]);
        differing.put(batch, at, leaf);
    }
}

}  // namespace

bool isNested(const Surface& surface) { return surface.swarm && surface.path != 0; }

bool isRecoloured(const LivePicture& picture, const Surface& surface) {
    if (!surface.swarm) return false;
    const Result& result = isNested(surface) ? *surface.within.swarm : *surface.swarm;
    return picture.coloured == result.swarm && picture.colours.size() == static_cast<std::size_t>(result.count);
}

std::vector<std::size_t> stridesOf(const Gathering& gathering, const DrawList& list, double most) {
    std::vector<double> worth(list.surfaces.size());
    forRanges(worth.size(), 256, [&](std::size_t begin, std::size_t end) {
        for (std::size_t s = begin; s < end; ++s)
            if (isNested(list.surfaces[s])) worth[s] = wanted(gathering, list.surfaces[s]);
    });
    double sum = 0;
    for (std::size_t s = 0; s < worth.size(); ++s)
        if (worth[s] > 0) sum += worth[s] * static_cast<double>(list.surfaces[s].meshes->level.back()->triangleCount());
    const double share = std::min(1.0, most / std::max(sum, 1.0));
    std::vector<std::size_t> strides(worth.size());
    for (std::size_t s = 0; s < worth.size(); ++s) {
        if (worth[s] == 0) continue;
        const double each = static_cast<double>(list.surfaces[s].instances().size()) / std::max(1.0, worth[s] * share);
        strides[s] = std::size_t{1} << static_cast<int>(std::ceil(std::log2(std::max(1.0, each)) - 1e-9));
    }
    return strides;
}

std::vector<Together> gatheredTogether(const Gathering& gathering, const DrawList& list, std::vector<SeeThrough>& later) {
    const auto strides = stridesOf(gathering, list, gathering.picture.steps.fineMeshes ? mostResting : mostMoving);
    std::map<Alike, std::size_t> known;
    std::vector<Together> all;
    for (std::size_t s = 0; s < strides.size(); ++s) {
        if (strides[s] == 0) continue;
        const Surface& surface = list.surfaces[s];
        const Alike alike = alikeOf(surface);
        const auto [at, isNew] = known.try_emplace(alike, all.size());
        if (isNew) all.push_back({surface, {}});
        gather(gathering, surface, list.looks[static_cast<std::size_t>(surface.look)], strides[s], all[at->second].batches, later);
    }
    for (Together& one : all)
        if (!gathering.ghost) closeSides(one.batches, one.as.meshes->bounds);
    return all;
}

void leafMatrix(const glm::mat4& pose, const float* own, float larger, float* to) {
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 4; ++column) {
            const float times = column < 3 ? larger : 1;
            const float sum = pose[0][row] * own[column] + pose[1][row] * own[4 + column] + pose[2][row] * own[8 + column];
            to[4 * row + column] = sum * times + (column == 3 ? pose[3][row] : 0);
        }
}

}  // namespace gswarm::live
