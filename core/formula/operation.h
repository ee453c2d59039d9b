#pragma once
#include <cstdint>
#include <string_view>
#include <vector>

namespace gswarm {

/// What one step of a formula's program does to a column. Names and meanings are those of the GLSL standard where it
/// has them.
enum class Operation : std::uint8_t {
    // of one
    negate,
    absolute,
    sign,
    floor,
    ceil,
    round,
    trunc,
    fract,
    sqrt,
    inversesqrt,
    exp,
    log,
    exp2,
    log2,
    sin,
    cos,
    tan,
    asin,
    acos,
    atan,
    radians,
    degrees,
    chance,
    no,
    // of two
    add,
    subtract,
    multiply,
    divide,
    mod,
    min,
    max,
    pow,
    step,
    less,
    lessOrEqual,
    equal,
    unequal,
    both,
    either,
    // of three
    clamp,
    mix,
    smoothstep,
    noise,
    select
};

/// A function that formulas can call.
struct FormulaFunction {
    const char* name;
    Operation operation;
    int arguments;
    const char* shown;    ///< with its arguments, for completion: "mix(a, b, x)"
    const char* summary;  ///< one sentence
};
const std::vector<FormulaFunction>& formulaFunctions();
/// Null if there is none.
const FormulaFunction* findFormulaFunction(std::string_view name);

/// A number that a formula finds under a short name. The order is that of the inputs of a program.
enum class FormulaInput : std::uint8_t {
    number,
    share,
    homeX,
    homeY,
    homeZ,
    placeX,
    placeY,
    placeZ,
    sizeX,
    sizeY,
    sizeZ,
    weight,
    seconds,
    frame,
    loop,
    count
};
inline constexpr int formulaInputCount = 16;
struct FormulaName {
    const char* name;
    FormulaInput input;
    const char* summary;
};
/// Its number among the inputs of a program.
constexpr int at(FormulaInput input) { return static_cast<int>(input); }
const std::vector<FormulaName>& formulaNames();

}  // namespace gswarm
