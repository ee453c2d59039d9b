#include "core/formula/operation.h"

#include <algorithm>

namespace gswarm {

const std::vector<FormulaFunction>& formulaFunctions() {
    static const std::vector<FormulaFunction> functions = {
        {"abs", Operation::absolute, 1, "abs(x)", "x without its sign"},
        {"acos", Operation::acos, 1, "acos(x)", "The angle whose cosine is x, radians"},
        {"asin", Operation::asin, 1, "asin(x)", "The angle whose sine is x, radians"},
        {"atan", Operation::atan, 1, "atan(x)", "The angle whose tangent is x, radians"},
        {"ceil", Operation::ceil, 1, "ceil(x)", "The next whole number upward"},
        {"chance", Operation::chance, 1, "chance(k)", "Random 0 … 1 of the instance, another one for each whole k"},
        {"clamp", Operation::clamp, 3, "clamp(x, low, high)", "x held between low and high"},
        {"cos", Operation::cos, 1, "cos(x)", "Cosine of an angle in radians"},
        {"degrees", Operation::degrees, 1, "degrees(x)", "Radians turned into degrees"},
        {"exp", Operation::exp, 1, "exp(x)", "e to the power x"},
        {"exp2", Operation::exp2, 1, "exp2(x)", "2 to the power x"},
        {"floor", Operation::floor, 1, "floor(x)", "The next whole number downward"},
        {"fract", Operation::fract, 1, "fract(x)", "What is left of x above its floor"},
        {"inversesqrt", Operation::inversesqrt, 1, "inversesqrt(x)", "One over the square root of x"},
        {"log", Operation::log, 1, "log(x)", "Natural logarithm of x"},
        {"log2", Operation::log2, 1, "log2(x)", "Logarithm of x to the base 2"},
        {"max", Operation::max, 2, "max(a, b)", "The larger one"},
        {"min", Operation::min, 2, "min(a, b)", "The smaller one"},
        {"mix", Operation::mix, 3, "mix(a, b, x)", "From a to b by x"},
        {"mod", Operation::mod, 2, "mod(x, y)", "What is left of x above the last whole multiple of y"},
        {"noise", Operation::noise, 3, "noise(x, y, z)", "Soft hills −1 … 1 over three numbers, one hill a unit"},
        {"pow", Operation::pow, 2, "pow(x, y)", "x to the power y; x must not be below 0 unless y is a small whole number"},
        {"radians", Operation::radians, 1, "radians(x)", "Degrees turned into radians"},
        {"round", Operation::round, 1, "round(x)", "The nearest whole number"},
        {"sign", Operation::sign, 1, "sign(x)", "−1, 0 or 1"},
        {"sin", Operation::sin, 1, "sin(x)", "Sine of an angle in radians"},
        {"smoothstep", Operation::smoothstep, 3, "smoothstep(a, b, x)", "0 below a, 1 above b, smooth between"},
        {"sqrt", Operation::sqrt, 1, "sqrt(x)", "Square root of x"},
        {"step", Operation::step, 2, "step(edge, x)", "0 below the edge, 1 from there on"},
        {"tan", Operation::tan, 1, "tan(x)", "Tangent of an angle in radians"},
        {"trunc", Operation::trunc, 1, "trunc(x)", "x without what follows its point"},
    };
    return functions;
}

const FormulaFunction* findFormulaFunction(std::string_view name) {
    const auto& all = formulaFunctions();
    const auto found = std::find_if(all.begin(), all.end(), [name](const FormulaFunction& f) { return f.name == name; });
    return found == all.end() ? nullptr : &*found;
}

const std::vector<FormulaName>& formulaNames() {
    static const std::vector<FormulaName> names = {
        {"i", FormulaInput::number, "The instance's number, from 0"},
        {"n", FormulaInput::count, "How many instances there are; on curves that are numbered anew, on its own"},
        {"share", FormulaInput::share, "The instance's number as 0 … 1 over all that are counted"},
        {"x", FormulaInput::homeX, "Its home, metres along the swarm's X"},
        {"y", FormulaInput::homeY, "Its home, metres along the swarm's Y"},
        {"z", FormulaInput::homeZ, "Its home, metres along the swarm's Z"},
        {"xNow", FormulaInput::placeX, "Where it is now, metres along the swarm's X"},
        {"yNow", FormulaInput::placeY, "Where it is now, metres along the swarm's Y"},
        {"zNow", FormulaInput::placeZ, "Where it is now, metres along the swarm's Z"},
        {"xSize", FormulaInput::sizeX, "Its size now along its X, 1 as the stock has it"},
        {"ySize", FormulaInput::sizeY, "Its size now along its Y, 1 as the stock has it"},
        {"zSize", FormulaInput::sizeZ, "Its size now along its Z, 1 as the stock has it"},
        {"weight", FormulaInput::weight, "How strongly this card acts on it, before strength"},
        {"t", FormulaInput::seconds, "Its time in seconds"},
        {"frame", FormulaInput::frame, "Its time in frames"},
        {"loop", FormulaInput::loop, "Its place in the loop, 0 … 1"},
    };
    return names;
}

}  // namespace gswarm
