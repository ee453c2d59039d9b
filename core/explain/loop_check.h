#pragma once
#include <string>
#include <vector>

#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"

namespace gswarm {

/// The largest differences between two moments, over the instances of a swarm.
struct Seam {
    double position = 0;  ///< metres, in the world
    double rotation = 0;  ///< degrees; hidden instances are passed over
    double scale = 0;     ///< of the factor along one axis
    double colour = 0;    ///< of a linear channel
    int shown = 0;        ///< instances that are shown at one and not at the other
    int shape = 0;        ///< instances that repeat something else
};

/// Something that would close the seam, to be applied by itself.
struct LoopMend {
    ObjectId object;
    std::string label;  ///< "Swell: one whole lap a loop"
    Edit edit;
};

/// What the check found out about one swarm.
struct SwarmLoop {
    ObjectId swarm;
    double size = 0;       ///< diagonal of the box around its instances, metres
    Seam seam;             ///< between the first frame and the one a loop later
    double speedJump = 0;  ///< metres a frame, largest difference of the speeds before and after the seam
    ObjectId breaks;  ///< the rail entry, stock entry or symmetry after which the seam first shows; the empty id for its homes or its place
    bool closed = true;
    std::string told;  ///< one sentence
};

struct LoopCheck {
    double first = 0, last = 0;  ///< the frames that were compared
    std::vector<SwarmLoop> swarms;
    std::vector<std::string> told;  ///< of numbers that differ and can't be mended by themselves, one sentence each
    std::vector<LoopMend> mends;
    bool closed = true;
};

/// A seam below this counts as closed: in shares of the swarm's size, degrees, factors, linear colour.
inline constexpr double closedPosition = 1e-4, closedRotation = 0.01, closedScale = 1e-3, closedColour = 2e-3;

/// Compares the project's first frame with the one a loop later, card by card, and finds what closes the seam.
LoopCheck checkLoop(const Scene& scene, const PlanOptions& options, Evaluator& evaluator, Progress& progress);

/// What would close an object's loop, of all objects for the empty id: speeds become whole laps, keys come back to where they
/// began, a memory starts one loop early. Numbers that already come back are left alone.
std::vector<LoopMend> loopMends(const Scene& scene, ObjectId object);
/// All of them as one edit. Throws Error if there is nothing to mend.
Edit makeLoop(const Scene& scene, ObjectId object);

}  // namespace gswarm
