#pragma once
#include <vector>

#include "core/base/lane_number.h"
#include "core/scene/value.h"

namespace gswarm {

/// The track's value at a frame. Before the first and after the last key it holds their values.
double valueAt(const Track& track, double frame);

/// Sets a key at the frame; an existing key there takes the new value and keeps its ease.
Track withKey(const Track& track, double frame, double value, Ease ease);
/// Takes the key at the frame away. A track left without keys is fixed at the last key's value.
Track withoutKey(const Track& track, double frame);
/// Moves the key at `from` to `to`; a key already there gives way.
Track withMovedKey(const Track& track, double from, double to);

/// A track compiled to cubic pieces, for reading at many moments close to one frame.
/// Each piece is value = c0 + s (c1 + s (c2 + s c3)) with s frames since its start.
struct TrackPieces {
    struct Piece {
        double start;
        float c0, c1, c2, c3;
    };
    std::vector<Piece> pieces;  ///< ascending; the first also serves earlier moments
};
TrackPieces compile(const Track& track);

/// out[i] = the track at frame + offset[i], for a count that is a multiple of 16.
void readPieces(const TrackPieces& pieces, double frame, const float* offset, int count, float* out);

}  // namespace gswarm
