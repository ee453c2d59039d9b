#pragma once
#include "core/edit/edit.h"

namespace gswarm {

/// A gesture in the rails of several swarms is shared: edited in one, changed in all.

/// How many rails a card's gesture stands in.
int usersOf(const Scene& scene, ObjectId gesture);

enum class ZonesOfCopy { shared, own };
/// A copy of a card with its own gesture, behind the card. Its zones stay shared, or it gets copies of its own.
Edit duplicateCard(const Scene& scene, ObjectId railEntry, ZonesOfCopy zones);
/// A copy of a card as the last of another swarm's rail. A named value it changes or reads is found there by its name,
/// or added.
Edit copyCard(const Scene& scene, ObjectId railEntry, ObjectId swarm);
/// The same gesture as the last card of another swarm's rail.
Edit shareCard(const Scene& scene, ObjectId railEntry, ObjectId swarm);
/// Gives a shared card a gesture of its own, alike.
Edit giveOwnCopy(const Scene& scene, ObjectId railEntry);
/// Every card of a rail copied or shared to the end of another swarm's.
Edit copyRail(const Scene& scene, ObjectId from, ObjectId to);
Edit shareRail(const Scene& scene, ObjectId from, ObjectId to);

/// A named value of a swarm. Throws Error if it has as many as may be.
Edit addNamedValue(const Scene& scene, ObjectId swarm, const std::string& name);

/// A zone of instances that were chosen, as the last entry of the gesture's weave.
Edit addChosenZone(const Scene& scene, ObjectId gesture, const std::vector<std::uint64_t>& ids);

/// An entry of a weave becomes a group that holds it; further entries can then be moved into it.
Edit groupEntry(const Scene& scene, ObjectId weaveEntry);
/// Moves an entry into the group that stands above it in the same list. Throws Error if there is none.
Edit moveIntoGroup(const Scene& scene, ObjectId weaveEntry);
/// Takes a group apart: its entries stand in its place.
Edit ungroup(const Scene& scene, ObjectId group);
/// The gesture that a weave entry belongs to, also from within groups.
ObjectId gestureOfEntry(const Scene& scene, ObjectId weaveEntry);

}  // namespace gswarm
