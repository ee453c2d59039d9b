#pragma once
#include <array>

#include "live/gathered.h"

namespace gswarm::live {

/// Tells each instance of some batches of one mesh which sides of its box neighbours of the same mesh close: 0 (open) … 15 for −x, +x,
/// −y, +y, −z and +z of its own, four bits each from the lowest. A neighbour closes a side as far as it overlaps it and stands near: at a
/// gap of three quarters of the way from the middle to the side it no longer does, and what is much larger is not looked for. What leaves
/// the box on a closed side comes from that neighbour, not from what is around. Where there are very many, all are open.
void closeSides(std::array<Batch, detailLevels>& batches, const Bounds& box);

}  // namespace gswarm::live
