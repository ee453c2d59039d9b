#pragma once
#include <functional>
#include <vector>

#include "core/flow/plan.h"

/// Weighing places: the one function that cards, densities and the lines of zones in the view call.
namespace gswarm {

/// Weight of one zone at the block's places in the world (`block.place`), as far as paddedCount; `offset` is each instance's own
/// time minus the moment's, frames. Zones that read instances find them in the block. Uses block.weighed and block.scratch.
void weighZone(const WeaveStep& step, const Moment& moment, const LaneNumber& offset, Block& block, float* weight);

/// Called with what is woven after each entry; entries in groups are counted where they stand.
using AfterEntry = std::function<void(std::size_t entry, const float* woven)>;

/// Weight of a weave, read downward; 1 where nothing is woven. Uses block.zone and block.group besides.
void weighWeave(const std::vector<WeaveStep>& steps, const Moment& moment, const LaneNumber& offset, Block& block, float* out,
                const AfterEntry* afterEntry = nullptr);

/// What all forces together do to a thing at each of the block's places in the world (`block.place`), in the world's axes, as far as
/// paddedCount; what is no number does nothing. Uses what weighWeave() uses, and block.where.
void feelForces(const std::vector<ForceStep>& forces, const Moment& moment, Block& block, ForceColumns& out);

}  // namespace gswarm
