#pragma once
#include <array>
#include <functional>
#include <memory>
#include <vector>

#include "core/flow/plan.h"

namespace gswarm {

/// Most columns that one card remembers of every instance.
inline constexpr int mostRemembered = 56;

/// What one card did to the instances of one block; the census folds these in block order.
struct CardCount {
    int touched = 0;            ///< weight is not 0
    int notFinite = 0;          ///< a formula gave what is no number; they were left as they were
    int seen = 0;               ///< changed, still to be seen at the end, on an instance that is shown
    int clippedWhere = 0;       ///< cut by the clip of where
    int clippedShaped = 0;      ///< cut by the clip of what drives
    float least = 0, most = 0;  ///< weight
};

/// What cards did to every so many-th instance, for strips and histograms: up to 512 numbers each.
struct CardSamples {
    std::vector<float> strip;                                    ///< weight
    std::vector<float> where, driven;                            ///< raw, before their responses
    std::vector<float> u, v;                                     ///< where they read a picture; empty where they read none
    std::vector<std::pair<ObjectId, std::vector<float>>> weave;  ///< the weave after each of its entries, those in groups too
};

/// Everything one thread needs to run blocks. Made once and used again; a block is about 500 KB, most of it untouched.
struct FlowSpace {
    Block block;
    Columns3 before, after;
    std::unique_ptr<FlowSpace> aside;  ///< for the rail a moment away, made when travel is first read
    EffectColumns effect;
    std::array<LaneNumber, mostGestureNumbers> numbers;  ///< of the card at work, where any differ per instance
    /// The card's columns of what it remembers and of what it will, from the block's first instance on.
    std::array<const float*, mostRemembered> known;
    std::array<float*, mostRemembered> kept;
    MemoryState* remember = nullptr;  ///< where the cards write what they remember; null where nobody asks
    std::array<CardCount, mostCards> counts;
};

/// Called after a card with its number in the rail, or −1 for the homes before any card. The block's columns are as
/// the card left them.
using AfterCard = std::function<void(int card, const Block&)>;

/// Runs one block of the plan through the whole rail. Neither locks nor allocates. Afterwards the space holds the
/// block's transforms and colours in swarm space and the counts (all but `seen`, which finishing knows).
/// With `samples`, one for each card, every stripStride-th number is written there too.
void runBlock(const Plan& plan, int blockNumber, FlowSpace& space, const AfterCard* afterCard = nullptr, CardSamples* samples = nullptr);

/// How far a card is run: not at all, until its weave is woven, until its pattern is there (both before their responses).
enum class FlowStage { before, woven, driven };
/// Runs a block through the rail up to a stage of one card, whose values are then in block.where or block.pattern.
void runBlockUntil(const Plan& plan, int blockNumber, FlowSpace& space, int card, FlowStage stage);
/// What drives a card at the places that the block has now: its weave in block.where and its pattern in block.pattern, both responded.
/// Returns how many components the pattern has.
int driveCard(const Plan& plan, FlowSpace& space, int card);

/// A card's columns of a state; null where it is none of this rail's.
const std::vector<MemoryState::Column>* columnsIn(const MemoryState* state, const Plan& plan, int card);
/// What a card remembers of every instance, its columns; null where nothing is known yet.
const std::vector<MemoryState::Column>* rememberedBy(const Plan& plan, int card);

/// Weight of numbers 0, stride, 2 stride … for a card's strip.
inline int stripStride(int count) { return count > 512 ? (count + 511) / 512 : 1; }

}  // namespace gswarm
