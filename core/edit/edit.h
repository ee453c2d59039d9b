#pragma once
#include <functional>
#include <string>

#include "core/scene/address.h"
#include "core/scene/scene.h"

namespace gswarm {

/// What an edit makes: the new scene, what undo calls it, and what it joins: consecutive edits with the same merge key
/// (not empty) are one undo step.
struct Edit {
    Scene scene;
    std::string label;
    std::string mergeKey;
    ObjectId made;       ///< the new object, if there is one
    std::string told{};  ///< a sentence on what it did besides
};

/// Every edit leaves the given scene as it is. Throws Error for values that may not stand there.
Edit setValue(const Scene& scene, const Address& address, const Value& value);
/// Sets one component, or a key at `frame` if the component is keyed. Throws Error for one that a formula or a link moves.
Edit setNumber(const Scene& scene, const Address& address, double value, double frame);
Edit rename(const Scene& scene, ObjectId object, const std::string& name);
/// Whether a thing of another kind would still be all that those who refer to it need: a shape that is stood on inside needs
/// to be closed.
bool kindSuits(const Scene& scene, ObjectId object, std::string_view slot, const Kind& kind);
/// Puts another kind into a slot; values of parameters that both kinds have stay, of shapes those that were changed.
Edit setKind(const Scene& scene, ObjectId object, std::string_view slot, const Kind& kind);

/// The same edit for each of some things, at least one, as one step; called as the first. Things that an earlier edit took away
/// are passed over.
Edit forEach(const Scene& scene, const std::vector<ObjectId>& things, const std::function<Edit(const Scene&, ObjectId)>& make);
/// An empty object that others hang from, at the middle of the world.
Edit addMount(const Scene& scene);
/// Of light that comes softly from everywhere the new one takes the place of the others: their strength becomes 0, which is told.
Edit addLight(const Scene& scene, const Kind& kind);
Edit addMedia(const Scene& scene, const Kind& kind);
Edit addSound(const Scene& scene, const Kind& kind);
Edit addForce(const Scene& scene, const Kind& kind);
/// A swarm of boxes on a grid, with its own shape.
Edit addSwarm(const Scene& scene);
/// A swarm that repeats a shape, a light or another swarm which is there. Another swarm is fitted to the spacing, and is no longer seen
/// where it stands, which is told.
Edit addSwarmOf(const Scene& scene, ObjectId shape);
Edit addShape(const Scene& scene, const Kind& kind);
/// Puts another kind of formation in. What both kinds share stays: counts and spacings also between one number and
/// three. A kind that stands on a shape and has none yet gets one: the shape chosen before, or a new one, dimmed. Cells touch
/// each other, so the stock is fitted to them.
Edit setFormation(const Scene& scene, ObjectId formation, const Kind& kind);
/// A further version of a swarm's formation under the same gestures: a copy of the one that is on, and on itself.
Edit addFormationVersion(const Scene& scene, ObjectId swarm);
/// A swarm of the pieces of a shape, each at its home.
Edit breakUp(const Scene& scene, ObjectId shape);
/// A new gesture as the last card of the swarm's rail.
Edit addGesture(const Scene& scene, ObjectId swarm, const Object& gesture);
/// A new zone as the last entry of the gesture's weave, at the middle of the world.
Edit addZone(const Scene& scene, ObjectId gesture, const Kind& kind);
/// Joins a zone that exists to a gesture's weave.
Edit weaveZone(const Scene& scene, ObjectId gesture, ObjectId zone);
/// Lets a swarm also repeat a shape, a light or another swarm; that one is then no longer seen where it stands, which is told.
Edit addStock(const Scene& scene, ObjectId swarm, ObjectId shape);
/// Takes an object away with all it owns. A card takes its gesture along unless another card uses it; whatever else
/// refers to the object keeps the reference and says so.
Edit remove(const Scene& scene, ObjectId object);
/// What a card is called: as its gesture, or “lost gesture” where that is gone.
std::string nameOfCard(const Scene& scene, ObjectId railEntry);
/// Moves an owned object to another place in its list.
Edit moveInList(const Scene& scene, ObjectId object, int to);

}  // namespace gswarm
