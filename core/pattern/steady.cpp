// The same value for every instance.
#include <algorithm>

#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

struct Steady {
    float value;
};

void fill(const Steady& steady, const PatternInput& in, Columns3& out) { std::fill_n(out.x, paddedCount(in.block), steady.value); }

}  // namespace

const PatternKind steadyPattern = makes(DescribePattern<Steady>("steady", "Steady", "The same for every instance")
                                            .found("constant fixed same uniform")
                                            .number("value", &Steady::value, 1, {0, 1}, "The value all instances get"),
                                        PatternRange::zeroToOne, oneComponent<Steady>, fill);

}  // namespace gswarm
