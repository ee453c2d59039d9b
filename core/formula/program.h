#pragma once
#include <functional>
#include <optional>
#include <vector>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/formula/parse.h"

namespace gswarm {

/// What a name in a formula stands for: a constant of this evaluation, or one of the columns given to run().
struct FormulaSource {
    bool column = false;
    double value = 0;  ///< of a constant
    int input = 0;     ///< which column
};
/// Finds a name as it is written; empty if it means nothing here.
using FormulaScope = std::function<std::optional<FormulaSource>(const std::string& name)>;

/// A formula as steps over columns of a block. Constants are folded; every step reads constants, inputs or earlier
/// results and writes one of a few working columns.
struct FormulaProgram {
    struct Operand {
        enum class From : std::uint8_t { constant, input, work } from = From::constant;
        int index = 0;
        float value = 0;
    };
    struct Step {
        Operation operation;
        Operand of[3];
        int to;  ///< working column
    };
    std::vector<Step> steps;
    Operand result;
    std::uint64_t inputs = 0;  ///< one bit for each input that is read
    bool reads(int input) const { return inputs >> input & 1; }
};

/// Working columns a program may use at most; a formula that needs more is refused.
inline constexpr int formulaColumns = 12;
/// Inputs a program may tell apart.
inline constexpr int mostFormulaInputs = 64;

/// Throws FormulaError for a name that the scope does not know.
FormulaProgram compileFormula(const Expression& expression, const FormulaScope& scope);

/// Columns of one block as a program reads them.
struct FormulaColumns {
    const float* input[mostFormulaInputs] = {};
    const std::uint32_t *idLow = nullptr, *idHigh = nullptr;  ///< for chance
};
/// out[i] for a count that is a multiple of 16; `work` has formulaColumns columns. Results may be infinite or no numbers.
void runFormula(const FormulaProgram& program, const FormulaColumns& columns, int count, Column* work, float* out);

}  // namespace gswarm
