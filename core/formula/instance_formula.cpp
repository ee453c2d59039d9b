#include "core/formula/instance_formula.h"

#include <algorithm>
#include <cmath>

namespace gswarm {
namespace {

constexpr int firstNamed = formulaInputCount;

FormulaScope scopeFor(const Formula& formula, const RailSource& source) {
    return [&](const std::string& name) -> std::optional<FormulaSource> {
        for (const FormulaName& known : formulaNames())
            if (known.name == name) return FormulaSource{true, 0, at(known.input)};
        const auto found = std::find_if(formula.names.begin(), formula.names.end(), [&](const auto& n) { return n.first == name; });
        if (found == formula.names.end()) return std::nullopt;
        if (const auto column = source.columnAt(found->second)) return FormulaSource{true, 0, firstNamed + *column};
        const double value = source.number(found->second);
        source.hash->add(value);
        return FormulaSource{false, value, 0};
    };
}

/// Columns that the block doesn't have are worked out only where the formula reads them.
struct Worked {
    alignas(64) Column number, share, seconds, frame, loop;
};

void fill(const FormulaProgram& program, const Block& block, const Moment& moment, const LaneNumber& offset, Worked& out) {
    const int padded = paddedCount(block);
    const auto own = [&](int i) { return offset.column ? offset.column[i] : offset.value; };
    if (program.reads(at(FormulaInput::share)))
        for (int i = 0; i < padded; ++i) out.share[i] = block.order[i] / lastOf(block.stretch[i]);
    if (program.reads(at(FormulaInput::seconds)))
        for (int i = 0; i < padded; ++i) out.seconds[i] = static_cast<float>((moment.frame + own(i)) / moment.rate);
    if (program.reads(at(FormulaInput::frame)))
        for (int i = 0; i < padded; ++i) out.frame[i] = static_cast<float>(moment.frame + own(i));
    if (program.reads(at(FormulaInput::loop)))
        for (int i = 0; i < padded; ++i) {
            Moment mine = moment;
            mine.frame += own(i);
            out.loop[i] = static_cast<float>(mine.loop());
        }
}

}  // namespace

bool InstanceFormula::readsTime() const {
    return program &&
           (program->reads(at(FormulaInput::seconds)) || program->reads(at(FormulaInput::frame)) || program->reads(at(FormulaInput::loop)));
}

bool InstanceFormula::readsOnlyPlace() const {
    std::uint64_t others = program->inputs;
    for (const FormulaInput place :
         {FormulaInput::homeX, FormulaInput::homeY, FormulaInput::homeZ, FormulaInput::placeX, FormulaInput::placeY, FormulaInput::placeZ,
          FormulaInput::seconds, FormulaInput::frame, FormulaInput::loop})
        others &= ~(std::uint64_t{1} << at(place));
    return others == 0 &&
           std::none_of(program->steps.begin(), program->steps.end(), [](const auto& step) { return step.operation == Operation::chance; });
}

void prepareFormula(InstanceFormula& formula, const RailSource& source) {
    const Expression expression = parseFormula(formula.formula.text);
    formula.program = std::make_shared<const FormulaProgram>(compileFormula(expression, scopeFor(formula.formula, source)));
}

void prepareCondition(InstanceFormula& formula, const RailSource& source) {
    const Expression expression = parseCondition(formula.formula.text);
    formula.program = std::make_shared<const FormulaProgram>(compileFormula(expression, scopeFor(formula.formula, source)));
}

void runInBlock(const FormulaProgram& program, Block& block, const Moment& moment, const LaneNumber& offset,
                std::span<const float* const> named, float* out) {
    thread_local Worked worked;
    fill(program, block, moment, offset, worked);
    FormulaColumns columns;
    columns.idLow = block.home.idLow;
    columns.idHigh = block.home.idHigh;
    const auto set = [&](FormulaInput input, const float* column) { columns.input[at(input)] = column; };
    set(FormulaInput::number, block.order);
    set(FormulaInput::share, worked.share);
    set(FormulaInput::homeX, block.home.position.x);
    set(FormulaInput::homeY, block.home.position.y);
    set(FormulaInput::homeZ, block.home.position.z);
    set(FormulaInput::placeX, block.position.x);
    set(FormulaInput::placeY, block.position.y);
    set(FormulaInput::placeZ, block.position.z);
    set(FormulaInput::sizeX, block.scale.x);
    set(FormulaInput::sizeY, block.scale.y);
    set(FormulaInput::sizeZ, block.scale.z);
    set(FormulaInput::weight, block.where);
    set(FormulaInput::seconds, worked.seconds);
    set(FormulaInput::frame, worked.frame);
    set(FormulaInput::loop, worked.loop);
    set(FormulaInput::count, block.stretch);
    for (std::size_t k = 0; k < named.size(); ++k) columns.input[firstNamed + static_cast<int>(k)] = named[k];
    runFormula(program, columns, paddedCount(block), block.formula, out);
}

void runFormula(const InstanceFormula& formula, Block& block, const Moment& moment, const LaneNumber& offset, float* out) {
    const float* named[16];
    for (int k = 0; k < 16; ++k) named[k] = block.named[k];
    runInBlock(*formula.program, block, moment, offset, named, out);
}

}  // namespace gswarm
