#pragma once

namespace gswarm {

enum class SpiralSurface { flat, dome };

/// How far an instance stands from its nearest neighbour on average where the radius is the root of the number.
inline constexpr float neighboursApart = 1.7003f;

/// Lengths in metres, share of the ball in percent. The id is the step along the spiral.
struct GoldenSpiral {
    int count;
    SpiralSurface onto;
    float spacing, radius, share;
};

}  // namespace gswarm
