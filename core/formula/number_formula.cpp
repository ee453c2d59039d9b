#include "core/formula/number_formula.h"

#include <algorithm>
#include <map>
#include <mutex>

#include "core/formula/parse.h"

namespace gswarm {
namespace {

std::shared_ptr<const NumberFormula> compiled(const Formula& formula) {
    const FormulaScope scope = [&](const std::string& name) -> std::optional<FormulaSource> {
        for (const FormulaName& known : formulaNames())
            if (known.name == name) return FormulaSource{true, 0, at(known.input)};
        const auto found = std::find_if(formula.names.begin(), formula.names.end(), [&](const auto& n) { return n.first == name; });
        const auto k = found - formula.names.begin();
        if (found == formula.names.end() || k >= mostFormulaNames) return std::nullopt;
        return FormulaSource{true, 0, formulaInputCount + static_cast<int>(k)};
    };
    auto out = std::make_shared<NumberFormula>();
    out->program = compileFormula(parseFormula(formula.text), scope);
    const FormulaInput time[] = {FormulaInput::seconds, FormulaInput::frame, FormulaInput::loop};
    for (int input = 0; input < formulaInputCount; ++input) {
        const bool isTime = std::any_of(std::begin(time), std::end(time), [&](FormulaInput t) { return at(t) == input; });
        if (out->program.reads(input)) (isTime ? out->readsTime : out->readsInstance) = true;
    }
    for (const auto& step : out->program.steps) out->readsInstance = out->readsInstance || step.operation == Operation::chance;
    return out;
}

}  // namespace

std::shared_ptr<const NumberFormula> numberFormula(const Formula& formula) {
    constexpr std::size_t mostKept = 4096;
    static std::mutex mutex;
    static std::map<std::string, std::shared_ptr<const NumberFormula>> kept;
    std::string key = formula.text;
    for (const auto& [name, address] : formula.names) key += '\n' + name;
    const std::lock_guard lock(mutex);
    if (const auto found = kept.find(key); found != kept.end()) return found->second;
    auto made = compiled(formula);
    if (kept.size() >= mostKept) kept.clear();
    return kept[key] = made;
}

double runNumber(const NumberFormula& formula, const Moment& moment, std::span<const double> names) {
    constexpr int lanes = 16;
    struct Row {
        alignas(64) float value[lanes];
    };
    std::array<Row, mostFormulaInputs> rows;
    FormulaColumns columns;
    const auto set = [&](int input, double value) {
        if (!formula.program.reads(input)) return;
        std::fill_n(rows[static_cast<std::size_t>(input)].value, lanes, static_cast<float>(value));
        columns.input[input] = rows[static_cast<std::size_t>(input)].value;
    };
    for (int input = 0; input < formulaInputCount; ++input) set(input, 0);
    set(at(FormulaInput::seconds), moment.seconds());
    set(at(FormulaInput::frame), moment.frame);
    set(at(FormulaInput::loop), moment.loop());
    for (std::size_t k = 0; k < names.size(); ++k) set(formula.firstName() + static_cast<int>(k), names[k]);
    alignas(64) std::uint32_t ids[lanes] = {};
    columns.idLow = columns.idHigh = ids;
    struct alignas(64) Work {
        Column column[formulaColumns];
    };
    thread_local const std::unique_ptr<Work> work = std::make_unique<Work>();
    alignas(64) float out[lanes];
    runFormula(formula.program, columns, lanes, work->column, out);
    return static_cast<double>(out[0]);
}

}  // namespace gswarm
