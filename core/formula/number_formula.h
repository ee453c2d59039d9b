#pragma once
#include <memory>
#include <span>

#include "core/base/moment.h"
#include "core/formula/program.h"
#include "core/scene/value.h"

namespace gswarm {

/// The formula that moves a number, ready to run. Its inputs are those of FormulaInput, then one for each of the names it
/// has for other numbers, in their order.
struct NumberFormula {
    FormulaProgram program;
    bool readsInstance = false;  ///< names what only instances have, such as i, share or chance
    bool readsTime = false;
    int firstName() const { return formulaInputCount; }
};
/// Names of other numbers that one formula may use.
inline constexpr int mostFormulaNames = mostFormulaInputs - formulaInputCount;

/// Compiled once and remembered by its text. Throws FormulaError.
std::shared_ptr<const NumberFormula> numberFormula(const Formula& formula);

/// Its value at a moment, with the values of its names in order. Not finite where it has none. The same bits as in a block.
double runNumber(const NumberFormula& formula, const Moment& moment, std::span<const double> names);

}  // namespace gswarm
