#pragma once
#include "core/base/block.h"
#include "core/pattern/pattern_kind.h"

namespace gswarm {

enum class StaggerBy { none, number, axis, random };
enum class StaggerEase { straight, slowStart, slowEnd, slowBoth };

/// A time shift for each instance: the last starts `over` frames after the first. Reads home place and number only.
struct Stagger {
    StaggerBy by;
    float over;  ///< frames
    Axis axis;
    bool reversed;
    StaggerEase ease;
    int seed;
};

/// offset[i] = t_i − t, frames, 0 or below for a positive `over`.
void stagger(const Stagger& stagger, const Block& block, const Bounds& homes, float* offset);

extern const Kind staggerKind;

}  // namespace gswarm
