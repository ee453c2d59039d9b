#pragma once
#include <memory>
#include <vector>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/formula/number_formula.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"

namespace gswarm {

class RailSource;

/// A number that may differ from instance to instance: because it moves and each instance has a time of its own, or
/// because its formula reads instance values.
struct NumberLane {
    float value = 0;                               ///< where it is the same for all, and where a formula gives no number
    TrackPieces pieces;                            ///< of one that is read at each instance's own time; empty for none
    int column = -1;                               ///< a named value of the swarm; −1 for none
    std::shared_ptr<const NumberFormula> formula;  ///< null for none
    std::vector<NumberLane> names;                 ///< what the formula's names stand for
    float factor = 1;                              ///< from typed to kernel units
    float low = -1e30f, high = 1e30f;              ///< in typed units

    bool same() const { return pieces.empty() && column < 0 && !formula; }
};

/// The lane of a track over the frames in which instances see it. Where they all have the frame's own time, from and to
/// are that frame. Throws Error if a formula or link names what is gone.
NumberLane laneOf(const Scene& scene, const Track& track, const RailSource& source, double from, double to);

/// out[i] for the block, as far as paddedCount; uses block.formula. Returns whether some may be no number.
bool readLane(const NumberLane& lane, Block& block, const Moment& moment, const LaneNumber& offset, float* out);

}  // namespace gswarm
