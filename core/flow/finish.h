#pragma once
#include "core/flow/flow.h"
#include "core/flow/result.h"

namespace gswarm {

/// Size and foot of the stock entries that a block's instances repeat.
struct StockNumbers {
    LaneNumber size, footX, footY, footZ;
    bool atCentre;  ///< every foot is 0
};

/// What finishing finds out about one block.
struct BlockCount {
    int visible = 0, notFinite = 0;
    Bounds bounds;
};

/// Writes a finished block into the result columns at its instances' numbers, and counts for each card what is still
/// to be seen of it (into space.counts).
BlockCount finishBlock(const Plan& plan, FlowSpace& space, ResultColumns& out);

/// Whether an instance of the block is seen, once the last card has run: what finishing decides for all, for one. The swarm's
/// own switch is not asked.
bool shownAt(const Plan& plan, const Block& block, int i);

/// Where the block's instances are drawn: position, rotation and scale after the last card, with size and foot of what they
/// repeat.
void placeBlock(const Plan& plan, const Block& block, std::vector<Placement>& out);

}  // namespace gswarm
