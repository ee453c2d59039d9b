#pragma once
#include <map>

#include "core/scene/address.h"
#include "core/scene/scene.h"

/// What the files of edits share: each changes a scene that is being made.
namespace gswarm::edits {

/// A copy of the object in the scene, to be changed.
Object& changed(Scene& scene, ObjectId id);
/// The value behind an address, in a copy of its object.
Value& valueIn(Scene& scene, const Address& address);
/// Throws Error if the scene has as many objects as may be.
void insert(Scene& scene, const Object& object);
/// A new card at the end of the rail. Throws Error if it has as many as may be.
ObjectId appendCard(Scene& scene, ObjectId swarm, ObjectId gesture);
/// Of a card.
ObjectId gestureOf(const Scene& scene, ObjectId railEntry);
void refuseCard(const Scene& scene, ObjectId swarm);
void setReference(Object& object, std::string_view slot, std::string_view parameter, ObjectId to);
void setText(Object& object, std::string_view slot, std::string_view parameter, const std::string& to);
/// Copies with fresh ids of objects that stand in `from`, perhaps the same scene as it was, and of all they own. What they
/// say of each other (references, links, formulas) is true of the copies. Each old id with its copy's.
std::map<ObjectId, ObjectId> copyAll(Scene& scene, const Scene& from, const std::vector<ObjectId>& ids);
/// The same for one object.
ObjectId copyWithOwned(Scene& scene, ObjectId id);
/// References, links and formulas of `objects` that mean what stands left in the map mean what stands right of it.
void readdressAll(Scene& scene, const std::map<ObjectId, ObjectId>& copies, const std::vector<ObjectId>& objects);
/// Named values of another swarm that a gesture uses become those of this swarm with the same name, or are added to it. Throws
/// Error if it has as many as may be.
void adoptNamedValues(Scene& scene, ObjectId gesture, ObjectId swarm);
/// The wish, or with a number behind it if the name is taken; cut where it is longer than a person may type.
std::string freeName(const Scene& scene, const std::string& wish);
ObjectId appendStock(Scene& scene, ObjectId swarm, ObjectId shape);
/// What is written of a length that was measured.
double toMillimetres(double metres);
/// Throws Error if the object now depends on itself, with the names along the way.
void refuseCircle(const Scene& scene, ObjectId changed);

}  // namespace gswarm::edits
