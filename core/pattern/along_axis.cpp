// Grows with the instance's place along an axis of the swarm.
#include <algorithm>

#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

enum class Measure { share, metres };

struct AlongAxis {
    Axis axis;
    Measure measure;
};

void fill(const AlongAxis& pattern, const PatternInput& in, Columns3& out) {
    const int axis = static_cast<int>(pattern.axis);
    const float* place = columnOf(in.place, pattern.axis);
    const bool share = pattern.measure == Measure::share;
    const float low = share ? in.range.low[axis] : 0;
    const float length = in.range.high[axis] - in.range.low[axis];
    const float scale = !share ? 1 : length > 0 ? 1 / length : 0;
    for (int i = 0; i < paddedCount(in.block); ++i) out.x[i] = (place[i] - low) * scale;
}

bool readsRange(const AlongAxis& pattern) { return pattern.measure == Measure::share; }

}  // namespace

const PatternKind alongAxisPattern = readingRange(
    makes(DescribePattern<AlongAxis>("alongAxis", "Place along an axis", "Grows from one side of the swarm to the other")
              .found("height gradient position ramp axis linear")
              .choice("axis", &AlongAxis::axis, axisChoices(), "Which way it grows")
              .choice("measure", &AlongAxis::measure, {{"share", "0 to 1 over the swarm"}, {"metres", "Metres"}}, "What the value is"),
          PatternRange::zeroToOne, oneComponent<AlongAxis>, fill),
    readsRange);

}  // namespace gswarm
