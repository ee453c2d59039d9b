#pragma once

namespace gswarm {

enum class RandomSpread { even, bell };

/// Chance from … to by seed and id; with steps above 1 only that many values, both ends among them. Bell-shaped chance is
/// the mean of four even throws, so it never leaves from … to.
struct Random {
    float from, to;
    RandomSpread spread;
    int seed, steps;
    bool sameOnAllAxes;
};

}  // namespace gswarm
