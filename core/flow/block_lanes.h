#pragma once
#include "core/base/block.h"

namespace gswarm {

/// Positions, rotations and scales as at home; everything shown and nothing shifted in time.
void settleAtHome(Block& block);

/// The same value for every instance; `count` is a multiple of 16.
void fillColumn(float value, int count, float* column);

}  // namespace gswarm
