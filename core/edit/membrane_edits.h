#pragma once
#include "core/edit/edit.h"

namespace gswarm {

/// A shape of a kind that a swarm carries, shown where that stands, with a swarm that can: one that is there already and carries
/// none yet, else a new one on the corners of a ball, whose instances are hidden.
Edit addCarriedShape(const Scene& scene, const Kind& kind);

}  // namespace gswarm
