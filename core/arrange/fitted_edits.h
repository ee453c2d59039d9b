#pragma once
#include <cstdint>
#include <vector>

#include "core/edit/edit.h"
#include "core/edit/gesture_starts.h"

namespace gswarm {

struct Result;

/// Edits whose new thing is made to the measure of a swarm as it stands: `seen` is a result of that swarm. Without one (null)
/// and for a swarm without extent, things begin at the middle of the world with their standard sizes.

/// A new zone as the last entry of the gesture's weave. It stands in the middle of the swarm's homes, and its lengths grow or
/// shrink with them in steps that read well (… 1, 1.5, 2, 3, 5, 7, 10 … times the standard). One that follows a shape or
/// another swarm stays where that is.
Edit addZoneFitted(const Scene& scene, ObjectId gesture, const Kind& kind, const Result* seen);

/// The gesture as the last card of the swarm's rail. One for chosen instances acts on those with the ids `chosen`; where none
/// are chosen, on the one nearest to the middle of the swarm. A box to travel through is as large as the swarm and its
/// spacing, so that rows follow each other evenly where it wraps.
Edit addGestureStart(const Scene& scene, ObjectId swarm, const GestureStart& start, const std::vector<std::uint64_t>& chosen,
                     const Result* seen);

}  // namespace gswarm
