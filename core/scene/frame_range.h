#pragma once
#include "core/scene/scene.h"

namespace gswarm {

/// The frames that are played and rendered, whole numbers.
struct FrameRange {
    int first = 0, last = 0;
    bool operator==(const FrameRange&) const = default;
};

/// Those of the project; the last is never before the first.
FrameRange framesOf(const Scene& scene);

}  // namespace gswarm
