// A number that the instances carry along, as earlier cards left it.
#include <algorithm>

#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

struct NamedNumberPattern {
    ObjectId number;
    int column = 0;
};

void prepare(NamedNumberPattern& pattern, const RailSource& source) { pattern.column = source.column(pattern.number); }

void fill(const NamedNumberPattern& pattern, const PatternInput& in, Columns3& out) {
    std::copy_n(in.block.named[pattern.column], paddedCount(in.block), out.x);
}

}  // namespace

const PatternKind namedNumberPattern =
    preparing(makes(DescribePattern<NamedNumberPattern>("namedNumber", "Named number", "A number that each instance carries along")
                        .reference("number", &NamedNumberPattern::number, {ObjectType::number}, "Which of the swarm's named numbers"),
                    PatternRange::zeroToOne, oneComponent<NamedNumberPattern>, fill),
              prepare);

}  // namespace gswarm
