#pragma once
#include <array>
#include <functional>
#include <memory>
#include <vector>

#include "core/evaluate/plan.h"

namespace gswarm {

/// What one card did to the instances of one block; the census folds these in block order.
struct CardCount {
    int touched = 0;            ///< weight is not 0
    int seen = 0;               ///< changed, still to be seen at the end, on an instance that is shown
    int clippedWhere = 0;       ///< cut by the clip of where
    int clippedShaped = 0;      ///< cut by the clip of what drives
    float least = 0, most = 0;  ///< weight
};

/// Everything one thread needs to run blocks. Made once and used again; a block is about 300 KB.
struct FlowSpace {
    Block block;
    EffectColumns effect;
    std::array<CardCount, mostCards> counts;
};

/// Called after a card with its number in the rail, or −1 for the homes before any card. The block's columns are as
/// the card left them.
using AfterCard = std::function<void(int card, const Block&)>;

/// Runs one block of the plan through the whole rail. Neither locks nor allocates. Afterwards the space holds the
/// block's transforms and colours in swarm space and the counts (all but `seen`, which finishing knows).
void runBlock(const Plan& plan, int blockNumber, FlowSpace& space, const AfterCard* afterCard = nullptr);

/// Weight of numbers 0, stride, 2 stride … for a card's strip.
inline int stripStride(int count) { return (count + 511) / 512; }

}  // namespace gswarm
