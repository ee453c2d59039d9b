#pragma once
#include <string>

#include "core/scene/scene.h"

namespace gswarm {

/// With what a shape lies: the first swarm that uses it, else a zone that lies along or around it; the empty id for one
/// that lies at the middle of the world.
ObjectId carrierOf(const Scene& scene, ObjectId shape);
/// Whether a swarm's formation, stock or gestures use a shape.
bool usesShape(const Scene& scene, ObjectId swarm, ObjectId shape);
/// Whether the swarm's formation stands on a shape.
bool standsOn(const Scene& scene, ObjectId swarm, ObjectId shape);

/// What an object's place depends on: the object it hangs from, or what carries the curve it follows. The empty id for
/// one that stands on its own.
ObjectId hangsFrom(const Scene& scene, ObjectId object);
/// The names along a way of hanging that comes back to where it began, "Arm → Hand → Arm"; empty if there is none.
std::string circleOfHanging(const Scene& scene, ObjectId start);

}  // namespace gswarm
