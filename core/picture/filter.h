#pragma once
#include "core/base/progress.h"
#include "core/picture/after.h"

namespace gswarm {

/// A film's picture without most of its noise: each pixel is what those around it make likely that show the same surfaces and whose
/// light differs by no more than its noise explains (regression.h); edges of surfaces, textures of their own colour and a clean film
/// stay as they are. Cost: 121 neighbours a pixel. Throws Cancelled.
LinearPicture filtered(const Film& film, const Progress& progress);

}  // namespace gswarm
