#pragma once
#include "core/flow/plan.h"
#include "core/scene/rail_source.h"

namespace gswarm {

class Store;

/// What the preparing of a weave needs to know.
struct WeavePreparing {
    const Scene& scene;
    RailSource& source;  ///< its hash takes in all that the weave depends on
    Store& store;
    double earliest, latest;  ///< frames: between these lie the instances' own times; alike where all have the frame's
    bool& mayFail;            ///< becomes true where a zone may give what is no number
};

/// Entries of a weave at the source's frame, those that are off left out. Throws Error where one lacks something.
std::vector<WeaveStep> weaveOf(const WeavePreparing& preparing, const std::vector<ObjectId>& entries);

/// A response at the source's frame.
Response responseOf(const Scene& scene, const Part& part, RailSource& source);

/// Takes a zone's place, turn and numbers into a hash.
void addState(ContentHash& hash, const ZoneState& state);

}  // namespace gswarm
