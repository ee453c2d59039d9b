#pragma once
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/base/moment.h"
#include "core/scene/classes.h"

namespace gswarm {

/// An object of the scene: a shape, swarm, gesture, zone … What it is made of is said by its class.
struct Object {
    ObjectId id;
    std::string name;
    std::vector<Part> parts;                   ///< one for each slot of the class
    std::vector<std::vector<ObjectId>> lists;  ///< one for each list of the class
    ObjectId group;                            ///< that the person put it in; only what no other owns is in one
    std::string unknown;                       ///< members of the file that this version does not know, as JSON text

    /// The part in a slot, by the slot's id.
    const Part& part(std::string_view slot) const;
    Part& part(std::string_view slot);
    /// Whether its class has that slot.
    bool holds(std::string_view slot) const;
    const std::vector<ObjectId>& list(std::string_view list) const;
    std::vector<ObjectId>& list(std::string_view list);
    bool operator==(const Object&) const = default;
};

struct Scene;

/// Tells numbers what is heard. Safe from any thread.
class Listening {
  public:
    virtual ~Listening() = default;
    /// One of the heard numbers of a sound (“level”, “bass” …) at a frame, 0 … 1; 0 where nothing can be heard.
    virtual double heard(const Scene& scene, ObjectId sound, std::string_view number, double frame) const = 0;
};

/// Everything in a project, as a value: edits make a new Scene that shares what they leave alone.
struct Scene {
    std::map<ObjectId, std::shared_ptr<const Object>> objects;
    std::vector<ObjectId> order;  ///< objects that no other owns, as the scene list shows them
    std::string unknown;          ///< of the file's outermost object
    /// Who listens to its sounds; null where nobody does, and all is silent. No part of what it is.
    std::shared_ptr<const Listening> listening;

    /// Null if there is none.
    const Object* find(ObjectId id) const;
    /// Throws Error if there is none: ids come from panels, addresses and files, which may be older than the scene.
    const Object& at(ObjectId id) const;
    std::vector<ObjectId> all(ObjectType type) const;
    /// The one object of type project.
    const Object& project() const;
    /// The first swarm, shape … with the name; the empty id if there is none.
    ObjectId named(ObjectType type, std::string_view name) const;
    /// Whose list holds the object; the empty id for one that no other owns.
    ObjectId ownerOf(ObjectId id) const;
    /// All objects that refer to this one through a parameter.
    std::vector<ObjectId> referringTo(ObjectId id) const;
};

/// Things of different types have no order among them: the file and the scene list keep each type's alone.
bool operator==(const Scene& a, const Scene& b);

/// More objects than this are neither read nor made.
inline constexpr std::size_t mostObjects = 100'000;
/// Characters; what a person types is held to fewer, since copies put numbers behind it.
inline constexpr std::size_t longestName = 1000, longestTypedName = 200;

/// A frame with the project's rate and loop.
Moment momentAt(const Scene& scene, double frame);

}  // namespace gswarm
