#include "core/gesture/neighbours.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace gswarm {
namespace {

/// One axis of the grid: cells at least as wide as the distance over where most places are. What lies outside belongs to
/// the outermost cells: then two places within the distance are still in the same or in adjacent cells.
struct Axis {
    float low = 0, perMetre = 0;
    int cells = 1;

    int cellOf(float v) const {
        const float at = (v - low) * perMetre;
        return at > 0 ? std::min(static_cast<int>(std::min(at, 1e9f)), cells - 1) : 0;
    }
};

/// Leaves out the outermost twentieths, so that a few stray places don't make all others share one cell.
Axis axisOver(const std::vector<float>& v, float distance) {
    std::vector<float> sample;
    const std::size_t stride = std::max<std::size_t>(1, v.size() / 4096);
    for (std::size_t i = 0; i < v.size(); i += stride)
        if (std::isfinite(v[i])) sample.push_back(v[i]);
    if (sample.empty()) return {};
    const auto at = [&](double share) {
        const auto k = static_cast<std::ptrdiff_t>(share * static_cast<double>(sample.size() - 1));
        std::nth_element(sample.begin(), sample.begin() + k, sample.end());
        return sample[static_cast<std::size_t>(k)];
    };
    const float low = at(0.05), high = at(0.95), margin = (high - low) * 0.2f + distance;
    Axis axis;
    axis.low = low - margin;
    axis.perMetre = 1 / distance;
    axis.cells = static_cast<int>(std::clamp((high - low + 2 * margin) / distance + 1, 1.0f, 1e6f));
    return axis;
}

struct Grid {
    Axis x, y, z;
    std::vector<std::uint32_t> begin;  ///< first slot of each cell, and one more

    std::size_t cellOf(float px, float py, float pz) const { return cellAt(x.cellOf(px), y.cellOf(py), z.cellOf(pz)); }
    std::size_t cellAt(int i, int j, int k) const {
        return (static_cast<std::size_t>(k) * static_cast<std::size_t>(y.cells) + static_cast<std::size_t>(j)) * static_cast<std::size_t>(x.cells) +
               static_cast<std::size_t>(i);
    }
    std::size_t count() const { return static_cast<std::size_t>(x.cells) * static_cast<std::size_t>(y.cells) * static_cast<std::size_t>(z.cells); }
};

/// Wider cells where there would be far more of them than places.
Grid gridOver(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance) {
    Grid grid{axisOver(x, distance), axisOver(y, distance), axisOver(z, distance), {}};
    while (grid.count() > 4 * x.size() + 1024) {
        Axis& longest = grid.x.cells >= grid.y.cells && grid.x.cells >= grid.z.cells ? grid.x : grid.y.cells >= grid.z.cells ? grid.y : grid.z;
        longest.cells = longest.cells / 2 + 1;
        longest.perMetre /= 2;
    }
    return grid;
}

/// Stable counting sort by cell.
std::vector<std::uint32_t> sortedInto(Grid& grid, const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z) {
    std::vector<std::uint32_t> cell(x.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, x.size(), 8192), [&](const auto& range) {
        for (std::size_t i = range.begin(); i < range.end(); ++i) cell[i] = static_cast<std::uint32_t>(grid.cellOf(x[i], y[i], z[i]));
    });
    grid.begin.assign(grid.count() + 1, 0);
    for (const std::uint32_t c : cell) ++grid.begin[c + 1];
    for (std::size_t c = 1; c < grid.begin.size(); ++c) grid.begin[c] += grid.begin[c - 1];
    std::vector<std::uint32_t> next(grid.begin.begin(), grid.begin.end() - 1), order(x.size());
    for (std::size_t i = 0; i < x.size(); ++i) order[next[cell[i]]++] = static_cast<std::uint32_t>(i);
    return order;
}

}  // namespace

std::vector<float> Neighbours::inOrder(const std::vector<float>& column) const {
    std::vector<float> out(column.size());
    for (std::size_t s = 0; s < out.size(); ++s) out[s] = column[order[s]];
    return out;
}

void Neighbours::putBack(const std::vector<float>& bySlot, std::vector<float>& column) const {
    for (std::size_t s = 0; s < bySlot.size(); ++s) column[order[s]] = bySlot[s];
}

Neighbours neighboursWithin(const std::vector<float>& x, const std::vector<float>& y, const std::vector<float>& z, float distance,
                            std::size_t most) {
    Neighbours out;
    const std::size_t n = x.size();
    out.start.assign(n, 0);
    out.parts.resize((n + Neighbours::slotsInPart - 1) / Neighbours::slotsInPart);
    if (n == 0 || !(distance > 0)) {
        out.order.resize(n);
        for (std::size_t i = 0; i < n; ++i) out.order[i] = static_cast<std::uint32_t>(i);
        return out;
    }
    Grid grid = gridOver(x, y, z, distance);
    out.order = sortedInto(grid, x, y, z);
    const std::vector<float> sx = out.inOrder(x), sy = out.inOrder(y), sz = out.inOrder(z);
    const float within2 = distance * distance;
    tbb::parallel_for(std::size_t{0}, out.parts.size(), [&](std::size_t p) {
        auto& part = out.parts[p];
        part.reserve(Neighbours::slotsInPart * 8);
        std::vector<std::uint32_t> found(most + 1);
        for (std::size_t s = p * Neighbours::slotsInPart; s < std::min(n, (p + 1) * Neighbours::slotsInPart); ++s) {
            out.start[s] = static_cast<std::uint32_t>(part.size());
            const float px = sx[s], py = sy[s], pz = sz[s];
            const int ci = grid.x.cellOf(px), cj = grid.y.cellOf(py), ck = grid.z.cellOf(pz);
            std::size_t count = 0;
            for (int k = std::max(ck - 1, 0); k <= std::min(ck + 1, grid.z.cells - 1); ++k)
                for (int j = std::max(cj - 1, 0); j <= std::min(cj + 1, grid.y.cells - 1); ++j) {
                    // Three cells in a row stand one after the other. Each place is written down and counted only if it is near.
                    const std::uint32_t end = grid.begin[grid.cellAt(std::min(ci + 1, grid.x.cells - 1), j, k) + 1];
                    for (std::uint32_t o = grid.begin[grid.cellAt(std::max(ci - 1, 0), j, k)]; o < end && count < most; ++o) {
                        const float dx = sx[o] - px, dy = sy[o] - py, dz = sz[o] - pz;
                        found[count] = o;
                        count += static_cast<std::size_t>((dx * dx + dy * dy) + dz * dz < within2) & static_cast<std::size_t>(o != s);
                    }
                }
            part.insert(part.end(), found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count));
        }
    });
    return out;
}

}  // namespace gswarm
