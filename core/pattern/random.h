#pragma once

namespace gswarm {

/// Even chance from … to by seed and id; with steps above 1 only that many values, both ends among them.
struct Random {
    float from, to;
    int seed, steps;
    bool sameOnAllAxes;
};

}  // namespace gswarm
