#pragma once
#include <cstdint>

namespace gswarm {

/// Instances flow through the rail in blocks of this many, so that their columns stay in the processor's cache.
inline constexpr int blockSize = 1024;
/// A little longer, so that the columns of a block don't all begin at the same place of a memory page, where stores to one
/// would hold up loads from another.
inline constexpr int columnLength = blockSize + 16;

using Column = float[columnLength];
using WordColumn = std::uint32_t[columnLength];

struct Columns3 {
    alignas(64) Column x, y, z;
};
struct Columns4 {
    alignas(64) Column x, y, z, w;
};

/// Where the instances of a block stand before any gesture, in swarm space.
/// The rotation's +Y is the home normal and its +Z the tangent.
struct HomeColumns {
    Columns3 position;  ///< metres
    Columns4 rotation;  ///< unit quaternion
    alignas(64) Column size;
    alignas(64) WordColumn idLow, idHigh;
};

/// One block on its way along the rail. Kernels work on whole vectors, so columns are valid up to the next multiple
/// of 16 above `count`; lanes beyond `count` hold finite leftovers that no total may include.
struct Block {
    int first = 0;  ///< number of the first instance
    int count = 0;  ///< 1 … blockSize

    alignas(64) Column number;   ///< of each instance in the whole swarm, exact below 2²⁴
    alignas(64) Column order;    ///< what cards read as its number: the same, or counted anew where the formation does so
    alignas(64) Column stretch;  ///< how many are counted with it; in a rehearsal, of the whole swarm too

    HomeColumns home;
    Columns3 position;
    Columns4 rotation;
    Columns3 scale;
    alignas(64) std::uint16_t variant[columnLength];  ///< which of the plan's variants each repeats
    Columns4 colour;                                  ///< linear Rec. 709, straight alpha in w
    alignas(64) Column shown;                         ///< 1, or 0 once a gesture has hidden the instance
    alignas(64) Column shift;                         ///< frames by which earlier gestures have shifted its time
    alignas(64) Column named[16];                     ///< the swarm's named values

    // The card at work, made anew by each card.
    alignas(64) Column offset;       ///< frames: the instance's own time minus the frame's
    alignas(64) Column where;        ///< woven and responded, before the strength
    alignas(64) Column weight;       ///< the strip: where × strength
    Columns3 weighed;                ///< weight × driven value, one column used or three
    Columns3 full;                   ///< strength × driven value without the weave, where an elsewhere value is on
    Columns3 pattern;                ///< driven value alone, read by ramps
    const Columns3* driven;          ///< what the card goes by: `weighed`, or `pattern` where the weight is 1 for all
    alignas(64) Column measured[2];  ///< what the gesture at work found out before anything else
    Columns3 place;                  ///< the zone's side of things: world place
    alignas(64) Column zone;         ///< one zone's weight
    alignas(64) Column group[3];     ///< weaves inside a weave
    alignas(64) Column scratch[24];
    alignas(64) Column formula[12];
};

/// The last number among as many as are counted together, 1 where that is 0: order / last is the share, 0 … 1.
inline float lastOf(float stretch) { return stretch > 2 ? stretch - 1 : 1; }

/// Columns are processed in steps of 16 lanes whatever the vector width, so that every target does the same work.
inline int paddedCount(const Block& block) { return (block.count + 15) & ~15; }

}  // namespace gswarm
