#include "core/gesture/gesture_kind.h"

namespace gswarm {

int GestureKind::laneCount() const {
    int count = 0;
    for (const Parameter& p : parameters)
        if (p.perInstance) count += p.components;
    return count;
}

}  // namespace gswarm
