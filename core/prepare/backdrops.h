#pragma once
#include <vector>

#include "core/flow/backdrop.h"
#include "core/prepare/looks.h"
#include "core/provide/shapes.h"
#include "core/provide/store.h"

namespace gswarm {

/// The shapes that are seen with a swarm: those its formation stands on, where the swarm stands; those that only its
/// stock, gestures or other shapes use, with the first swarm that uses them; those that only a zone lies along, where the zone
/// is; and those that nothing uses, at the middle of the world, with the first swarm of all.
std::vector<Backdrop> backdropsOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes, Looks& looks, Store& store,
                                  std::vector<std::string>& notes);

}  // namespace gswarm
