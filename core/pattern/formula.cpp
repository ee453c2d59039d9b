// What a person writes: one formula, or one for each axis.
#include "core/formula/instance_formula.h"
#include "core/pattern/pattern_kind.h"

namespace gswarm {
namespace {

struct FormulaPattern {
    InstanceFormula value, y, z;
    bool three;
};

void prepare(FormulaPattern& pattern, const RailSource& source) {
    prepareFormula(pattern.value, source);
    if (!pattern.three) return;
    prepareFormula(pattern.y, source);
    prepareFormula(pattern.z, source);
}

int components(const FormulaPattern& pattern) { return pattern.three ? 3 : 1; }
bool moves(const FormulaPattern& pattern) {
    return pattern.value.readsTime() || (pattern.three && (pattern.y.readsTime() || pattern.z.readsTime()));
}

void fill(const FormulaPattern& pattern, const PatternInput& in, Columns3& out) {
    runFormula(pattern.value, in.block, in.moment, in.offset, out.x);
    if (!pattern.three) return;
    runFormula(pattern.y, in.block, in.moment, in.offset, out.y);
    runFormula(pattern.z, in.block, in.moment, in.offset, out.z);
}

PatternKind formulaKind() {
    PatternKind kind =
        makes(DescribePattern<FormulaPattern>("formula", "Formula", "What you write, from number, place, time and random values")
                  .found("expression script code math")
                  .toggle("three", &FormulaPattern::three, false, "A formula for each of X, Y and Z instead of one for all")
                  .label("For each axis")
                  .formula("value", &FormulaPattern::value, "sin(share * 2 * pi)", "Such as sin(x + t) or chance(1) * share")
                  .label("Formula")
                  .formula("y", &FormulaPattern::y, "0", "What drives Y")
                  .only("three", {"on"})
                  .formula("z", &FormulaPattern::z, "0", "What drives Z")
                  .only("three", {"on"}),
              PatternRange::zeroToOne, components, fill);
    kind.mayFail = true;
    return moving(preparing(std::move(kind), prepare), moves);
}

}  // namespace

const PatternKind formulaPattern = formulaKind();

}  // namespace gswarm
