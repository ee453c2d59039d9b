#pragma once
#include <functional>
#include <vector>

#include "core/base/lane_number.h"
#include "core/scene/value.h"

namespace gswarm {

/// A keyed or fixed track's value at a frame. What formulas and links give is told by resolve.h, which knows the scene.
double keyedValueAt(const Track& track, double frame);
/// How fast a keyed track changes there, units a frame; at a key, on the way that leaves it. 0 for a fixed one.
double slopeAt(const Track& track, double frame);

/// Sets a key at the frame; an existing key there takes the new value and keeps its ease.
Track withKey(const Track& track, double frame, double value, Ease ease);
/// Takes the key at the frame away. A track left without keys is fixed at the last key's value.
Track withoutKey(const Track& track, double frame);
/// The track with these keys in place of its own, put in order; of keys at one frame the last one stays. Without keys it
/// is fixed at the value it had.
Track withKeys(const Track& track, std::vector<Key> keys);
/// The same track with every value multiplied.
Track scaledTrack(const Track& track, double factor);

/// Slopes (shares of the rise over the whole way) with which an ease leaves its key and arrives at the next.
struct EaseSlopes {
    double leaves, arrives;
};
EaseSlopes slopesOf(Ease ease);

/// A track as cubic pieces, for reading at many moments close to one frame.
/// Each piece is value = c0 + s (c1 + s (c2 + s c3)) with s frames since its start.
struct TrackPieces {
    struct Piece {
        double start;
        float c0, c1, c2, c3;
    };
    std::vector<Piece> pieces;  ///< ascending; the first also serves earlier moments
    bool empty() const { return pieces.empty(); }
};
/// The pieces that serve the frames from `from` to `to` of a keyed or fixed track, exact but for rounding to float32. A
/// track that repeats more than 100 000 pieces within them is cut there.
TrackPieces piecesOf(const Track& track, double from, double to);
/// Any number as cubic pieces through its values at every half frame.
TrackPieces sampledPieces(const std::function<double(double frame)>& valueAt, double from, double to);

/// out[i] = the pieces at frame + offset[i], for a count that is a multiple of 16.
void readPieces(const TrackPieces& pieces, double frame, const float* offset, int count, float* out);

}  // namespace gswarm
