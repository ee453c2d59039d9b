#pragma once
#include "core/scene/scene.h"

namespace gswarm::edits {

/// Gives the empty references of an object's slot something sensible to refer to, so that nothing new waits for a choice: shapes that
/// suit, another formation of the swarm, another swarm, the camera. What is missing is made: a dimmed path or ball, a
/// version of the formation. References that mean nothing now, or that only a person can choose, stay empty.
void giveReferences(Scene& scene, ObjectId object, std::string_view slot, ObjectId swarm);

}  // namespace gswarm::edits
