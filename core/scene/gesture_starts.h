#pragma once
#include <string>
#include <vector>

#include "core/scene/edit.h"

namespace gswarm {

/// A gesture to begin with, told by what it does. The gallery of the (+) shows these.
struct GestureStart {
    std::string id, label, summary;
    Object (*make)();
    bool forChosen = false;  ///< begins with a zone of the instances that are chosen
};
const std::vector<GestureStart>& gestureStarts();

/// The gesture as the last card of a swarm. One for chosen instances acts on those with the ids `chosen`; where none are
/// chosen, on the one nearest to the middle of the world.
Edit addGestureStart(const Scene& scene, ObjectId swarm, const GestureStart& start, const std::vector<std::uint64_t>& chosen);

}  // namespace gswarm
