#pragma once
#include "core/picture/trace.h"
#include "tests/core/making.h"

namespace gswarm::making {

/// Of all shots one evaluator makes what it shows, as in the window: what did not change is the same.
Shot shotOf(const Build& b);
/// What a film has gathered, pixel by pixel.
std::vector<float> numbersOf(const Film& film);

}  // namespace gswarm::making
