#pragma once
#include <string>

#include "core/scene/scene.h"

namespace gswarm {

/// Everything an object refers to or owns, in the order of its tables, and the forces where it feels them; what is not there is left out.
/// What it hangs from is not meant: a zone may hang from the swarm that it acts on.
std::vector<ObjectId> usedBy(const Scene& scene, ObjectId id);

/// A card of a swarm's rail, counted from 0, that shares a world with those of others.
struct WorldMember {
    ObjectId swarm;
    int card = 0;
};
/// All that share a world with a swarm, itself too, in the order of their ids; empty where it shares none.
std::vector<WorldMember> worldOf(const Scene& scene, ObjectId swarm);

/// The zones of a gesture's weave in reading order, those in groups too; what was deleted is left out.
std::vector<ObjectId> wovenZones(const Scene& scene, ObjectId gesture);

/// The swarms that repeat a swarm as a whole, in the order of their ids.
std::vector<ObjectId> swarmsRepeating(const Scene& scene, ObjectId swarm);

/// These objects and all that they depend on in any way, hanging and numbers that read other numbers too, in the order
/// of their ids.
std::vector<ObjectId> everythingBehind(const Scene& scene, const std::vector<ObjectId>& roots);

/// The names along a way that comes back to where it began, "A → B → A", starting from these objects; empty if there is
/// none. What depends on itself can't be computed.
std::string circleFrom(const Scene& scene, const std::vector<ObjectId>& starts);

}  // namespace gswarm
