#pragma once
#include <optional>

#include "core/edit/edit.h"

/// When a gesture acts, as three numbers that hang together: how long each instance takes, when the last starts, when all
/// are done.
namespace gswarm {

struct Timing {
    double first = 0;       ///< frame of the first key of any of its numbers
    double each = 0;        ///< frames from the first to the last key
    double lastStarts = 0;  ///< frame at which the last instance starts
    double done() const { return lastStarts + each; }
    Ease ease = Ease::eased;  ///< of the first key
};
/// Empty for a gesture without keys.
std::optional<Timing> timingOf(const Scene& scene, ObjectId gesture, double frame);

/// A pair of keys that lets the strength grow from 0 to 100 % over one second from the frame on.
Edit growFrom(const Scene& scene, ObjectId gesture, double frame);
/// Stretches its keys so that each instance takes so many frames. Throws Error below 1.
Edit setEach(const Scene& scene, ObjectId gesture, double frames);
/// The last instance starts at this frame; a gesture without a stagger gets one by number.
Edit setLastStart(const Scene& scene, ObjectId gesture, double frame);
/// All are done at this frame; how long each takes stays. Throws Error before the first is done.
Edit setDone(const Scene& scene, ObjectId gesture, double frame);
/// The ease of every key of its numbers.
Edit setGrowthEase(const Scene& scene, ObjectId gesture, Ease ease);

}  // namespace gswarm
