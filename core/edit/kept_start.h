#pragma once
#include <string>

#include "core/edit/edit.h"

/// Beginnings of one's own: a rail, a gesture, a zone, a formation or a whole swarm, kept to be used again in any project.
namespace gswarm {

enum class StartOf { rail, gesture, zone, formation, swarm };
inline constexpr const char* startOfNames[] = {"rail", "gesture", "zone", "formation", "swarm"};

/// What was kept, in a project of its own: one swarm that shows it, and all that it needs.
struct KeptStart {
    StartOf of = StartOf::swarm;
    ObjectId id;  ///< of the thing in `scene`; of the swarm for a rail
    std::string name;
    Scene scene;
};

/// Keeps a thing of a swarm: the swarm itself, its rail, or a gesture, zone or formation of it. Throws Error if the swarm does
/// not have it.
KeptStart keepStart(const Scene& scene, StartOf of, ObjectId swarm, ObjectId thing, const std::string& name);

/// Where a start is put: cards and formations into the swarm, a zone into the weave of the gesture. A whole swarm needs neither.
struct StartTarget {
    ObjectId swarm, gesture;
};
/// Adds what was kept with all it needs, under names that are free. Named values are found by their names; a camera or the
/// project's settings, where numbers follow them, are those of this project. A formation is on at once. Throws Error if the
/// target is missing or has as many cards as may be.
Edit useStart(const Scene& scene, const KeptStart& start, const StartTarget& target);

}  // namespace gswarm
