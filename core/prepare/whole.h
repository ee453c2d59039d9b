#pragma once
#include <span>

#include "core/flow/plan.h"
#include "core/provide/store.h"

namespace gswarm {

/// A card of another swarm that shares a world, its plan made as far as that, and a hash of all it depends on (0 where that can't be
/// told).
struct SharedCard {
    Plan plan;
    int card;
    std::uint64_t hash;
};

/// Makes what a card needs of all instances at once: the least and most of what it normalises, the instances nearest to
/// a point, the range of all places now, and what its kind gathers or carries on, together with the `others` that share its world. The
/// rail before it is run for every instance, on all cores. Kept in the store under the hash of everything before (0: made anew). What
/// can't be gathered lets the card wait.
void prepareWhole(Plan& plan, int card, std::uint64_t hash, std::span<const SharedCard> others, Store& store, Progress& progress);
/// The same but for what the kind gathers.
void prepareRanges(Plan& plan, int card, Store& store, Progress& progress);

/// Whether a card needs that.
bool needsWhole(const Card& card);

}  // namespace gswarm
