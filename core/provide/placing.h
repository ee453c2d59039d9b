#pragma once
#include <optional>

#include "core/base/turns.h"
#include "core/base/world_pose.h"
#include "core/light/light_kind.h"
#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// Curves that are followed are made and kept in the store.
/// What an object's own place and turn are told from: the object it hangs from, without its scale, or its place on the
/// curve it follows; the world for one that stands on its own, and for one whose curve can't be made.
WorldPose baseOf(const Scene& scene, ObjectId object, double frame, Store& store);
/// Where a zone, swarm, camera or mount stands in the world. Of these only a swarm has a scale.
WorldPose poseAt(const Scene& scene, ObjectId object, double frame, Store& store);
/// Where a shape lies: with its carrier, or at the middle of the world.
WorldPose shapePoseAt(const Scene& scene, ObjectId shape, double frame, Store& store);
/// All that lights from far away give together. Pictures of surroundings are not read.
FarLight farLightAt(const Scene& scene, double frame, Store& store);
/// A light in the world: with what it hangs from, and shining to where the thing is that it aims at. Nothing of one that is off or
/// shines from far away.
std::optional<Lamp> lampAt(const Scene& scene, ObjectId light, double frame, Store& store);
/// A camera in the world: with what it hangs from, and looking to where the thing is that it aims at.
Camera cameraAt(const Scene& scene, ObjectId camera, double frame, Store& store);

}  // namespace gswarm
