#pragma once
#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

#include "core/base/aligned_allocator.h"

namespace gswarm {

/// What the cards of one rail remember after a whole frame: for each card that remembers something its columns, one float an
/// instance, in number order. The length of a column is a multiple of 16; that of one the card does without as it is set is 0.
struct MemoryState {
    using Column = std::vector<float, UntouchedAllocator<float>>;
    double frame = 0;
    int count = 0;                           ///< instances
    std::uint64_t homes = 0;                 ///< hash of the homes
    std::vector<std::vector<Column>> cards;  ///< one for each card of the rail, empty for those that remember nothing
    std::vector<std::vector<float>> loose;   ///< of each card, what it remembers of no single instance; empty for most

    std::size_t bytes() const;
    /// Nothing is known yet of some instances.
    void forget(int first, int count);
};

/// What was remembered one loop earlier, near the end of a loop whose seam is blended: between two whole frames.
struct LapBefore {
    std::shared_ptr<const MemoryState> below, above;  ///< null where no seam is near
    float share = 0;                                  ///< from below to above
};

/// What a plan needs to know of the frames before its own. Before the project's first frame nothing is remembered, unless the
/// memory loops: then the lap before it is the lap of the loop, so that the state comes from the frames that are played
/// before the first in a loop. State advances on whole frames only: a fractional frame is one
/// exact partial step from the frame below, or lies between the two around it where a card carries on as a whole.
struct MemoryPlan {
    bool any = false;                          ///< whether a card of the rail remembers something
    double frames = 0;                         ///< of the step from the state, 0 … 1
    double before = 0;                         ///< the whole frame that the state belongs to
    std::uint64_t key = 0;                     ///< under which the state after this frame is kept; 0 for a fractional frame
    std::uint64_t hash = 0;                    ///< of all that the state depends on
    std::shared_ptr<const MemoryState> from;   ///< null where nothing is remembered yet: everything begins settled
    std::shared_ptr<const MemoryState> after;  ///< of the whole frame above a fractional one; null unless a card carries on as a whole
    LapBefore lap;
};

}  // namespace gswarm
