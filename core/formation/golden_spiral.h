#pragma once

namespace gswarm {

enum class SpiralSurface { flat, dome };

/// Lengths in metres, share of the ball in percent. The id is the step along the spiral.
struct GoldenSpiral {
    int count;
    SpiralSurface onto;
    float spacing, radius, share;
};

}  // namespace gswarm
