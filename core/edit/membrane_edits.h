#pragma once
#include "core/edit/edit.h"

namespace gswarm {

/// A shape of a kind that a swarm carries, shown where that stands, with a swarm that can: one that is there already and carries
/// none yet, else a new one on the corners of a ball, whose instances are hidden.
Edit addCarriedShape(const Scene& scene, const Kind& kind);

/// A shape of a kind that is made of all that a swarm shows, shown in its place: of the first swarm that is seen and that none is made of
/// yet, else of a new one; that swarm's own switch goes off.
Edit addShapeOfSwarm(const Scene& scene, const Kind& kind);

/// Whether a swarm stands on every corner of a shape.
bool standOnCorners(const Scene& scene, ObjectId shape);

/// A new hidden swarm of beads of chance size where another one stands, strewn over the surface that it stands on; the empty id where
/// it stands on none.
ObjectId addBeads(Scene& scene, ObjectId swarm);

}  // namespace gswarm
