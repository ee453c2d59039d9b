#include "live/closed_sides.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/mat3x3.hpp>

#include "core/base/parallel.h"
#include "core/gesture/neighbours.h"

namespace gswarm::live {
namespace {

constexpr std::size_t mostInstances = 40'000;  ///< instances
constexpr std::size_t mostAround = 48;         ///< neighbours of one
constexpr float reach = 2.5f;                  ///< of neighbours, in halves of the box's middle length

constexpr float flat = 1e-20f;  ///< what has no thickness is not divided by

/// Where a box stands: its middle, its axes as unit vectors, and half its lengths along them.
struct Standing {
    glm::vec3 middle;
    glm::mat3 axes;
    glm::vec3 half;
};

Standing standingOf(const float* m, const Bounds& box) {
    const glm::vec3 centre = box.centre(), size = box.size();
    Standing at{};
    for (int row = 0; row < 3; ++row)
        at.middle[row] = m[4 * row] * centre.x + m[4 * row + 1] * centre.y + m[4 * row + 2] * centre.z + m[4 * row + 3];
    for (int axis = 0; axis < 3; ++axis) {
        const glm::vec3 along{m[axis], m[4 + axis], m[8 + axis]};
        const float length = glm::length(along);
        at.axes[axis] = along / std::max(length, 1e-20f);
        at.half[axis] = length * size[axis] / 2;
    }
    return at;
}

/// How far a box reaches along a direction from its middle.
float halfAlong(const Standing& box, const glm::vec3& direction) {
    const glm::vec3 by = glm::abs(direction * box.axes);
    // Turned, it is rounder than its corners say.
    return std::max({by.x * box.half.x, by.y * box.half.y, by.z * box.half.z});
}

using Sides = std::array<float, 6>;

void addNeighbour(const Standing& mine, const Standing& other, Sides& closed) {
    const glm::vec3 to = (other.middle - mine.middle) * mine.axes;
    const glm::vec3 half{halfAlong(other, mine.axes[0]), halfAlong(other, mine.axes[1]), halfAlong(other, mine.axes[2])};
    for (int axis = 0; axis < 3; ++axis) {
        const float gap = std::abs(to[axis]) - mine.half[axis] - half[axis];
        // One in whose middle it stands is not beside it.
        float share =
            std::abs(to[axis]) > 0.5f * mine.half[axis] ? std::clamp(1.5f - 2 * gap / std::max(mine.half[axis], flat), 0.0f, 1.0f) : 0;
        for (const int aside : {(axis + 1) % 3, (axis + 2) % 3})
            share *= std::clamp((mine.half[aside] + half[aside] - std::abs(to[aside])) / std::max(2 * mine.half[aside], flat), 0.0f, 1.0f);
        closed[static_cast<std::size_t>(2 * axis + (to[axis] > 0 ? 1 : 0))] += share;
    }
}

std::uint32_t packed(const Sides& closed) {
    std::uint32_t all = 0;
    for (std::size_t side = 0; side < closed.size(); ++side)
        if (closed[side] > 0) all |= static_cast<std::uint32_t>(std::min(closed[side], 1.0f) * 15 + 0.5f) << (4 * side);
    return all;
}

}  // namespace

void closeSides(std::array<Batch, detailLevels>& batches, const Bounds& box) {
    std::size_t count = 0;
    for (const Batch& batch : batches) count += batch.colours.size();
    if (count < 2 || count > mostInstances) return;
    std::vector<const float*> matrices;
    matrices.reserve(count);
    for (const Batch& batch : batches)
        for (std::size_t k = 0; k < batch.colours.size(); ++k) matrices.push_back(&batch.matrices[12 * k]);
    std::vector<Standing> all(count);
    std::vector<float> x(count), y(count), z(count), lengths(count);
    forRanges(count, 1024, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            all[k] = standingOf(matrices[k], box);
            const glm::vec3 &at = all[k].middle, &h = all[k].half;
            x[k] = at.x, y[k] = at.y, z[k] = at.z;
            lengths[k] = h.x + h.y + h.z - std::min({h.x, h.y, h.z}) - std::max({h.x, h.y, h.z});
        }
    });
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(count / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    if (!(*middle > 0) || !std::isfinite(*middle)) return;
    const Neighbours near = neighboursWithin(x, y, z, reach * *middle, mostAround);
    std::vector<std::uint32_t> sides(count);
    forRanges(count, 512, [&](std::size_t begin, std::size_t end) {
        for (std::size_t slot = begin; slot < end; ++slot) {
            Sides closed{};
            for (const std::uint32_t other : near.of(slot)) addNeighbour(all[near.order[slot]], all[near.order[other]], closed);
            sides[near.order[slot]] = packed(closed);
        }
    });
    auto next = sides.begin();
    for (Batch& batch : batches) {
        batch.closed.assign(next, next + static_cast<std::ptrdiff_t>(batch.colours.size()));
        next += static_cast<std::ptrdiff_t>(batch.colours.size());
    }
}

}  // namespace gswarm::live
