#pragma once
#include "core/base/block.h"
#include "core/pattern/pattern_kind.h"
#include "core/shape/curve.h"

namespace gswarm {

enum class StaggerBy { none, number, axis, curve, distance, value, random };
enum class StaggerEase { straight, slowStart, slowEnd, slowBoth };

/// A time shift for each instance: the last starts `over` frames after the first. Reads home place and number only, or a
/// named value as the card finds it, of which 0 starts first and 1 last.
struct Stagger {
    StaggerBy by;
    float over;  ///< frames
    Axis axis;
    bool reversed;
    StaggerEase ease;
    int seed;
    ObjectId curve, thing, value, together;

    // Prepared.
    std::shared_ptr<const MeasuredCurve> along;  ///< in the swarm's space
    glm::vec3 place{0};                          ///< of the thing, in the swarm's space
    float low = 0, scale = 1;                    ///< of the distances over all homes: share = (distance − low) · scale
    int column = -1;                             ///< of the named value; by chance, of the one that chance goes by, if there is one
};

/// Asks for what it reads beside its own numbers; the range of the distances is set by whoever knows the homes.
void prepareStagger(Stagger& stagger, const RailSource& source);

/// offset[i] = t_i − t, frames, 0 or below for a positive `over`.
void stagger(const Stagger& stagger, const Block& block, const Bounds& homes, float* offset);

extern const Kind staggerKind;

}  // namespace gswarm
