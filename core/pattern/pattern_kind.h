#pragma once
#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/base/moment.h"
#include "core/scene/describe.h"
#include "core/scene/rail_source.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// What a pattern may read of a block.
struct PatternInput {
    Block& block;           ///< read, but for the working columns of formulas
    const Columns3& place;  ///< metres in swarm space: home or current, as the gesture says
    Bounds range;           ///< of the whole swarm's homes; of its places now for a pattern that reads those and their range
    Moment moment;
    LaneNumber offset;  ///< frames: the instance's own time minus the moment's
};

/// A rectangle in the swarm into which a pattern is put by its numbers “centre”, “width”, “height” and “angle”, to be dragged.
struct PatternPlace {
    glm::vec3 centre;
    glm::vec3 right, up;  ///< its sides, metres; `up` is 0 where its height follows from what is shown
    glm::vec3 normal;     ///< toward whoever looks at it
};

/// One value per instance, or three.
struct PatternKind : Kind {
    bool isSigned = false;                       ///< declared −1 … 1 rather than 0 … 1
    std::function<int(const void*)> components;  ///< 1 or 3
    /// Fills out.x, or all three, up to the next multiple of 16 above the block's count.
    std::function<void(const void*, const PatternInput&, Columns3& out)> fill;
    /// Asks for what the pattern reads beside its own numbers; empty for most.
    std::function<void(void*, const RailSource&)> prepare;
    /// Whether values change although no number does, by time alone; empty where they never do.
    std::function<bool(const void*)> moves;
    /// Whether values depend on the range of the places that are read: of places now that takes all instances at once.
    std::function<bool(const void*)> readsRange;
    /// Where on its picture instances read it, up to the next multiple of 16 above the block's count: (0, 0) is its lower left corner;
    /// beyond 1e30 they read none of it. Empty for patterns without one.
    std::function<void(const void*, const PatternInput&, float* u, float* v)> onPicture;
    /// Nothing where its settings put it elsewhere; empty for patterns without a place.
    std::function<std::optional<PatternPlace>(const void*)> place;
    bool mayFail = false;  ///< values may be infinite or no numbers
    /// What its reference to a shape has to have, by its settings; empty where its table says it.
    std::function<Needs(const Part&)> needs;
};

template <class T>
struct DescribePattern : Describe<T, PatternKind> {
    DescribePattern(std::string id, std::string label, std::string summary)
        : Describe<T, PatternKind>(Family::pattern, std::move(id), std::move(label), std::move(summary)) {}
};

/// Adds what a pattern has to prepare.
template <class T>
PatternKind preparing(PatternKind kind, void (*prepare)(T&, const RailSource&)) {
    kind.prepare = [prepare](void* data, const RailSource& source) { prepare(*static_cast<T*>(data), source); };
    return kind;
}
template <class T>
PatternKind moving(PatternKind kind, bool (*moves)(const T&)) {
    kind.moves = [moves](const void* data) { return moves(*static_cast<const T*>(data)); };
    return kind;
}

/// Says how a speed becomes laps.
inline PatternKind lapping(PatternKind kind, std::optional<LapSettings> (*inLaps)(const Part&, const NumberNow&, double)) {
    kind.inLaps = inLaps;
    return kind;
}
/// For kinds whose laps are the turns of their speed.
inline std::optional<LapSettings> speedInLaps(const Part& part, const NumberNow& now, double seconds) {
    if (choiceOf(part, "motion") != "speed") return std::nullopt;
    const double count = nearestLaps(now("speed", 0) * seconds);
    return LapSettings{{{"motion", std::string("laps")}, {"laps", fixedNumbers({count})}}, lapsInWords(count)};
}
template <class T>
PatternKind readingRange(PatternKind kind, bool (*readsRange)(const T&)) {
    kind.readsRange = [readsRange](const void* data) { return readsRange(*static_cast<const T*>(data)); };
    return kind;
}

enum class PatternRange { zeroToOne, minusOneToOne };

template <class T>
PatternKind makes(Describe<T, PatternKind>& described, PatternRange range, int (*components)(const T&),
                  void (*fill)(const T&, const PatternInput&, Columns3&)) {
    PatternKind kind = described.kind();
    kind.isSigned = range == PatternRange::minusOneToOne;
    kind.components = [components](const void* data) { return components(*static_cast<const T*>(data)); };
    kind.fill = [fill](const void* data, const PatternInput& in, Columns3& out) { fill(*static_cast<const T*>(data), in, out); };
    return kind;
}

/// For patterns that always have one value.
template <class T>
int oneComponent(const T&) {
    return 1;
}

enum class Axis { x, y, z };
inline std::vector<Choice> axisChoices() { return {{"x", "X"}, {"y", "Y"}, {"z", "Z"}}; }
inline const float* columnOf(const Columns3& columns, Axis axis) {
    return axis == Axis::x ? columns.x : axis == Axis::y ? columns.y : columns.z;
}

extern const PatternKind steadyPattern, numberPattern, alongAxisPattern, randomPattern, noisePattern, wavePattern, distancePattern,
    formulaPattern, namedValuePattern, picturePattern, soundPattern;

}  // namespace gswarm
