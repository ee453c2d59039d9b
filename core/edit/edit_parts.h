#pragma once
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
void refuseCard(const Scene& scene, ObjectId swarm);
void setReference(Object& object, std::string_view slot, std::string_view parameter, ObjectId to);
void setText(Object& object, std::string_view slot, std::string_view parameter, const std::string& to);
/// A copy with fresh ids of the object and all it owns.
ObjectId copyWithOwned(Scene& scene, ObjectId id);
/// The wish, or with a number behind it if the name is taken; cut where it is longer than a person may type.
std::string freeName(const Scene& scene, const std::string& wish);
ObjectId appendStock(Scene& scene, ObjectId swarm, ObjectId shape);
/// Throws Error if the object now depends on itself, with the names along the way.
void refuseCircle(const Scene& scene, ObjectId changed);

}  // namespace gswarm::edits
