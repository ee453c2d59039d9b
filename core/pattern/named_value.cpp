// A number that the instances carry along, as earlier cards left it.
#include <algorithm>

#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

struct NamedValuePattern {
    ObjectId value;
    int column = 0;
};

void prepare(NamedValuePattern& pattern, const RailSource& source) { pattern.column = source.column(pattern.value); }

void fill(const NamedValuePattern& pattern, const PatternInput& in, Columns3& out) {
    std::copy_n(in.block.named[pattern.column], paddedCount(in.block), out.x);
}

}  // namespace

const PatternKind namedValuePattern =
    preparing(makes(DescribePattern<NamedValuePattern>("namedValue", "Named value", "A value that each instance carries along")
                        .found("attribute variable custom")
                        .reference("value", &NamedValuePattern::value, {ObjectType::namedValue}, "Which of the swarm's named values")
                        .migrated({2, {{"number", "value"}}, nullptr}),
                    PatternRange::zeroToOne, oneComponent<NamedValuePattern>, fill),
              prepare);

}  // namespace gswarm
