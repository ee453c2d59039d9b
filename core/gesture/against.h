#pragma once
#include "core/scene/rail_source.h"
#include "core/shape/standing_shape.h"

namespace gswarm {

/// What a gesture goes against, in the world: all that another swarm shows at the frame, or a shape that stands where the gesture's own
/// swarm does. `hash` is of what it depends on; 0 where that can't be told. Throws Error where a shape has no surface.
StandingShapes standingAgainst(ObjectId swarmOrShape, const RailSource& source, std::uint64_t& hash);

}  // namespace gswarm
