#pragma once
#include "core/base/progress.h"
#include "core/picture/after.h"

namespace gswarm {

/// A film's picture without most of its noise: what light there is beside the surface's own colour is averaged over neighbours
/// that show the same surface (normal, depth, own colour) and whose light differs by no more than its noise explains; fine
/// noise at few samples becomes smooth, a clean film stays as it is. Wavelets of five widths after Schied et al. 2017, variance of
/// the pixel's own samples in the place of theirs over time. Cost: 125 neighbours a pixel. Throws Cancelled.
LinearPicture filtered(const Film& film, const Progress& progress);

}  // namespace gswarm
