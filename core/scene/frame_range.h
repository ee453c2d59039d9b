#pragma once
#include "core/scene/scene.h"

namespace gswarm {

/// The frames that are played and rendered, whole numbers.
struct FrameRange {
    int first = 0, last = 0;
    int every = 1;  ///< of them each so many-th, from the first on

    int count() const { return last < first ? 0 : (last - first) / every + 1; }
    /// The one that is taken after `k` others.
    int at(int k) const { return first + k * every; }
    bool operator==(const FrameRange&) const = default;
};

/// Those of the project; the last is never before the first.
FrameRange framesOf(const Scene& scene);

}  // namespace gswarm
