#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/flow/flow.h"
#include "core/flow/result.h"

/// What instances show at moments of their own: another swarm, or a shape that moves, so many frames earlier or later.
namespace gswarm {

/// Of one swarm at a time. Where instances are at more, some that are near each other show the same.
inline constexpr int mostMoments = 256;

/// Notes by how many whole frames the time of each instance of a block is shifted, once its last card has run; 0 where it shows nothing
/// at a moment of its own.
void takeMoments(const Plan& plan, const Block& block, std::vector<int>& moments);

/// Makes what is shown at each moment, once, and lets the instances show it. Throws Error if it can't be made.
void showMoments(const Plan& plan, std::vector<int>& moments, Result& result, Progress& progress);

}  // namespace gswarm
