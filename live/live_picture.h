#pragma once
#include <cstdint>
#include <vector>

#include "core/picture/draw_list.h"
#include "core/picture/view.h"

namespace gswarm::live {

/// What a live picture leaves out, so that it comes in time.
struct Steps {
    bool fineMeshes = true;   ///< else a level coarser
    bool shadows = true;      ///< of the first sun
    bool occlusion = true;    ///< what stands around keeps soft light away
    bool smoothEdges = true;  ///< of what has one sample a pixel

    bool operator==(const Steps&) const = default;
};

/// A swarm of another frame, drawn faintly, in a dotted way.
struct Ghost {
    DrawList list;
    float strength = 1;  ///< 0 … 1
};

/// All that one live picture is drawn from.
struct LivePicture {
    DrawList list;
    std::vector<Ghost> ghosts;
    Setting setting;  ///< with its pictures read
    bool ground = true;
    Steps steps;
    /// Where a swarm's instances are coloured by something else: R G B A in bytes with R the lowest, a row each.
    ObjectId coloured;
    std::vector<std::uint32_t> colours;
};

}  // namespace gswarm::live
