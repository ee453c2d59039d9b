#pragma once
#include <vector>

namespace gswarm {

/// Columns of a picture that the noise filter reads, rows from the top, with a rim around that belongs to no surface: a wavelet
/// may look beyond the edge.
struct FilterPlanes {
    static constexpr int rim = 32;  ///< pixels; the widest wavelet's reach

    FilterPlanes(int width, int height);
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y + rim) * static_cast<std::size_t>(stride) + static_cast<std::size_t>(x + rim);
    }

    int width, height, stride;
    /// What tells surfaces apart: unit normal, own colour, distance with its change to the next pixel (metres), and the part of
    /// the pixel that they cover, far below 0 in the rim.
    std::vector<float> normal[3], albedo[3], depth, slope, coverage;
};

/// What is filtered: light by the own colour, its luminance, and how far that is likely to be off, squared.
struct FilterLight {
    explicit FilterLight(const FilterPlanes& planes);

    std::vector<float> light[3], luminance, variance;
};

/// One row of one wavelet, whose neighbours are `step` pixels apart. 24 neighbours a pixel, on the widest lanes the processor has.
void spreadRow(const FilterPlanes& planes, const FilterLight& from, FilterLight& to, int step, int row);

}  // namespace gswarm
