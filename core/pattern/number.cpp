// Grows with the instance's number, from the first to the last.
#include <cmath>

#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

struct Number {
    float repeats;
    bool backAndForth;
};

void fill(const Number& pattern, const PatternInput& in, Columns3& out) {
    const Block& block = in.block;
    for (int i = 0; i < paddedCount(block); ++i) {
        const float x = block.order[i] / lastOf(block.stretch[i]) * pattern.repeats;
        const float into = x > 0 ? x - (std::ceil(x) - 1) : 0;  // the end of a run is 1, not the next run's 0
        const bool back = pattern.backAndForth && x > 0 && static_cast<int>(std::ceil(x)) % 2 == 0;
        out.x[i] = back ? 1 - into : into;
    }
}

}  // namespace

const PatternKind numberPattern = makes(DescribePattern<Number>("number", "Number", "Grows from the first instance to the last")
                                            .found("index count order gradient ramp")
                                            .number("repeats", &Number::repeats, 1, {1, 10}, "How many times it runs from 0 to 1")
                                            .hard(0, 1e6)
                                            .toggle("backAndForth", &Number::backAndForth, false, "Every other run goes back from 1 to 0"),
                                        PatternRange::zeroToOne, oneComponent<Number>, fill);

}  // namespace gswarm
