#pragma once
#include "core/flow/plan.h"
#include "core/provide/store.h"

namespace gswarm {

/// Makes what a card needs of all instances at once: the least and most of what it normalises, the instances nearest to
/// a point, the range of all places now, and what its kind gathers. The rail before it is run for every instance, on all cores. Kept in the
/// store under the hash of everything before (0: made anew). What can't be gathered lets the card wait.
void prepareWhole(Plan& plan, int card, std::uint64_t hash, Store& store, Progress& progress);

/// Whether a card needs that.
bool needsWhole(const Card& card);

}  // namespace gswarm
