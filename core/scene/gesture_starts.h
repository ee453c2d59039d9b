#pragma once
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace gswarm {

/// A gesture to begin with, told by what it does. The gallery of the (+) shows these.
struct GestureStart {
    std::string id, label, summary;
    Object (*make)();
};
const std::vector<GestureStart>& gestureStarts();

}  // namespace gswarm
