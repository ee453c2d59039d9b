#pragma once
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace gswarm {

/// A gesture to begin with, told by what it does. The gallery of the (+) shows these.
struct GestureStart {
    std::string id, label, summary;
    std::string words;  ///< plain trade words that people bring, by which it is found too
    Object (*make)();
    bool forChosen = false;     ///< begins with a zone of the instances that are chosen
    std::string together = {};  ///< the named value by which its stagger takes instances together
};
const std::vector<GestureStart>& gestureStarts();

}  // namespace gswarm
