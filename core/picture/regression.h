#pragma once
#include <array>
#include <vector>

namespace gswarm {

/// Columns of a picture that the noise filter reads, rows from the top, with a rim around it: what is looked at may lie beyond the
/// edge. There everything is as at the edge, but for the coverage, which lets nothing count.
struct FilterPlanes {
    static constexpr int rim = 8;  ///< pixels

    FilterPlanes(int width, int height);
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y + rim) * static_cast<std::size_t>(stride) + static_cast<std::size_t>(x + rim);
    }
    /// Copies what is at the edges beyond them.
    void fillRim();

    int width, height, stride;
    std::vector<float> light[3], variance;    ///< the latter of the light's mean, summed over the colours
    std::vector<float> albedo[3], normal[3];  ///< means of the samples': at an edge they lie between those of both sides
    std::vector<float> depth, slope;          ///< metres, and how much it changes to the next pixel
    std::vector<float> coverage;              ///< the part of the pixel that surfaces cover, far below 0 in the rim
};

/// Light of as many colours, in the planes' places.
using FilteredLight = std::array<std::vector<float>, 3>;

/// The most rows that regressRows() takes.
inline constexpr int rowsRegressed = 8;

/// What light pixels should have that are like their neighbours, for up to `rowsRegressed` rows from one on: a plane is laid through the
/// light of 11 × 11 pixels over their own colours and normals, by least squares, and read where the pixel is. Neighbours count by how
/// alike they look, beyond what noise explains, together with those around them (Bitterli et al. 2016, "Nonlinearly Weighted
/// First-order Regression for Denoising Monte Carlo Renderings"), and by how alike the surfaces are. Since colours and normals of a pixel
/// at an edge are mixed as its light is, edges stay as they are without being left as grainy as they were.
void regressRows(const FilterPlanes& planes, FilteredLight& to, int row, int rows);

}  // namespace gswarm
