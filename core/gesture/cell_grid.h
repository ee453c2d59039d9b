#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace gswarm {

/// One axis of the grid: cells at least as wide as the distance over where most places are. What lies outside belongs to
/// the outermost cells: then two places within the distance are still in the same or in adjacent cells.
struct CellAxis {
    float low = 0, perMetre = 0;
    int cells = 1;

    int cellOf(float v) const {
        const float at = (v - low) * perMetre;
        return at > 0 ? std::min(static_cast<int>(std::min(at, 1e9f)), cells - 1) : 0;
    }
};

/// Cells over places that were put in the order of their cells: X runs fastest, then Y, then Z.
struct CellGrid {
    CellAxis x, y, z;
    std::vector<std::uint32_t> begin;  ///< first slot of each cell, and one more

    std::size_t cellOf(float px, float py, float pz) const { return cellAt(x.cellOf(px), y.cellOf(py), z.cellOf(pz)); }
    std::size_t cellAt(int i, int j, int k) const {
        return (static_cast<std::size_t>(k) * static_cast<std::size_t>(y.cells) + static_cast<std::size_t>(j)) *
                   static_cast<std::size_t>(x.cells) +
               static_cast<std::size_t>(i);
    }
    std::size_t count() const {
        return static_cast<std::size_t>(x.cells) * static_cast<std::size_t>(y.cells) * static_cast<std::size_t>(z.cells);
    }
};

}  // namespace gswarm
