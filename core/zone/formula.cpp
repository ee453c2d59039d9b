// Zone whose weight a person writes as a formula of the instance.
#include "core/formula/instance_formula.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct FormulaZone {
    InstanceFormula weight;
};

void prepare(FormulaZone& zone, const RailSource& source) { prepareFormula(zone.weight, source); }

void weigh(const ZoneInput& in, float* weight) { runFormula(in.as<FormulaZone>().weight, *in.block, in.moment, in.offset, weight); }

ZoneKind formulaKind() {
    ZoneKind kind =
        preparing(makes(DescribeZone<FormulaZone>("formula", "Formula", "Acts as strongly as you write")
                            .found("expression script code math")
                            .formula("weight", &FormulaZone::weight, "smoothstep(0, 3, y)", "Such as y > 1 ? 1 : 0; w is the weight so far")
                            .kind(),
                        weigh),
                  prepare);
    kind.moves = [](const void* data) { return static_cast<const FormulaZone*>(data)->weight.readsTime(); };
    kind.instancesOnly = [](const void* data) { return !static_cast<const FormulaZone*>(data)->weight.readsOnlyPlace(); };
    kind.mayFail = true;
    return kind;
}

}  // namespace

const ZoneKind formulaZone = formulaKind();

}  // namespace gswarm
