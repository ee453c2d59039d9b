#pragma once
#include <string>

#include "core/edit/edit.h"

/// Beginnings of one's own: a rail, a gesture, a zone, a formation, a material or a whole swarm, kept to be used again in any project.
namespace gswarm {

enum class StartOf { rail, gesture, zone, formation, swarm, material };
inline constexpr const char* startOfNames[] = {"rail", "gesture", "zone", "formation", "swarm", "material"};

/// What was kept, in a project of its own: one swarm that shows it, and all that it needs. A material is kept with what it is mixed
/// from and without a swarm: a gesture or named value that mixed it is not kept.
struct KeptStart {
    StartOf of = StartOf::swarm;
    ObjectId id;  ///< of the thing in `scene`; of the swarm for a rail
    std::string name;
    Scene scene;
};

/// Keeps a thing of a swarm: the swarm itself, its rail, or a gesture, zone or formation of it; or a material, of no swarm. Throws
/// Error if the swarm does not have it.
KeptStart keepStart(const Scene& scene, StartOf of, ObjectId swarm, ObjectId thing, const std::string& name);

/// Where a start is put: cards and formations into the swarm, a zone into the weave of the gesture, a material
/// onto the stock entry or shape, if there is one. A whole swarm needs none.
struct StartTarget {
    ObjectId swarm, gesture;
    ObjectId user{};
};
/// Adds what was kept with all it needs, under names that are free. Named values are found by their names; a camera or the
/// project's settings, where numbers follow them, are those of this project. A formation is on at once. Throws Error if the
/// target is missing or has as many cards as may be.
Edit useStart(const Scene& scene, const KeptStart& start, const StartTarget& target);

}  // namespace gswarm
