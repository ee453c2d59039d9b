#pragma once
#include "core/picture/draw_list.h"
#include "core/picture/view.h"
#include "tests/core/making.h"

namespace gswarm::making {

/// White matt paper in the dark, forty metres wide, of which a parallel camera straight above sees ten; up in the picture is −Z.
struct Paper {
    Build b = Build::grid(1, 1, 1);

    Paper();
    ObjectId add(const Kind& kind);
    DrawList list() const;
    /// With its pictures read.
    Setting setting() const;
};

}  // namespace gswarm::making
