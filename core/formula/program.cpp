#include "core/formula/program.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/formula/program.cpp"
#include <hwy/foreach_target.h>

#include "core/base/gradient_noise-inl.h"
#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

template <class Body>
HWY_INLINE void each(const LaneNumber* of, int count, float* out, Body body) {
    for (int i = 0; i < count; i += lanes()) store(body(read(of[0], i), read(of[1], i), read(of[2], i)), out + i);
}

/// A comparison is 1 or 0.
template <class Mask>
HWY_INLINE F truth(Mask mask) {
    return hn::IfThenElseZero(mask, number(1));
}
HWY_INLINE auto isTrue(F x) { return hn::Ne(x, hn::Zero(Floats())); }

HWY_INLINE F notANumber() { return hn::BitCast(Floats(), hn::Set(Words(), 0x7FC00000u)); }
HWY_INLINE F infinite() { return hn::BitCast(Floats(), hn::Set(Words(), 0x7F800000u)); }

/// −∞ at 0, no number below.
HWY_INLINE F anyLog2(F x) {
    const F zero = hn::Zero(Floats());
    const F safe = hn::Max(x, number(1.1754944e-38f));
    const F value = hn::IfThenElse(hn::Ge(x, infinite()), infinite(), log2(safe));
    return hn::IfThenElse(hn::Gt(x, zero), value, hn::IfThenElse(hn::Eq(x, zero), hn::Neg(infinite()), notANumber()));
}
HWY_INLINE F anyExp2(F x) {
    const F value = exp2(hn::Min(hn::Max(x, number(-126)), number(127)));
    const F upper = hn::IfThenElse(hn::Ge(x, number(128)), infinite(), value);
    return hn::IfThenElse(hn::Lt(x, number(-126)), hn::Zero(Floats()), hn::IfThenElse(hn::Eq(x, x), upper, x));
}
/// Wherever x is not in the range of exactness of sineCosine, and for what is no number, no number.
HWY_INLINE SineCosine anySineCosine(F x) {
    const auto fine = hn::Le(hn::Abs(x), number(100000));
    const SineCosine s = sineCosine(hn::IfThenElseZero(fine, x));
    return {hn::IfThenElse(fine, s.sine, notANumber()), hn::IfThenElse(fine, s.cosine, notANumber())};
}
HWY_INLINE F anyArcCosine(F x) { return hn::IfThenElse(hn::Le(hn::Abs(x), number(1)), arcCosine(x), notANumber()); }

HWY_INLINE F power(F x, F y) {
    const F zero = hn::Zero(Floats());
    const F positive = anyExp2(hn::Mul(y, anyLog2(x)));
    const F atZero = hn::IfThenElse(hn::Gt(y, zero), zero, hn::IfThenElse(hn::Eq(y, zero), number(1), infinite()));
    const F whole = hn::Floor(y);
    const F odd = hn::Sub(whole, hn::Mul(number(2), hn::Floor(hn::Mul(whole, number(0.5f)))));
    const F size = anyExp2(hn::Mul(y, anyLog2(hn::Neg(x))));
    const F negative = hn::IfThenElse(hn::Eq(whole, y), hn::IfThenElse(hn::Eq(odd, number(1)), hn::Neg(size), size), notANumber());
    return hn::IfThenElse(hn::Gt(x, zero), positive, hn::IfThenElse(hn::Eq(x, zero), atZero, hn::IfThenElse(hn::Lt(x, zero), negative, x)));
}

/// Towards zero, the same for numbers too large to have a fraction.
HWY_INLINE F truncated(F x) { return hn::CopySign(hn::Floor(hn::Abs(x)), x); }

HWY_INLINE F smoothStep(F low, F high, F x) { return smooth(clamp01(hn::Div(hn::Sub(x, low), hn::Sub(high, low)))); }

void chances(const LaneNumber& k, const FormulaColumns& columns, int count, float* out) {
    for (int i = 0; i < count; i += lanes()) {
        const F limited = hn::Min(hn::Max(read(k, i), number(-1e9f)), number(1e9f));
        const W seed = hn::BitCast(Words(), toWhole(hn::Floor(limited)));
        const W start = hn::Xor(hn::Mul(seed, hn::Set(Words(), 0x9E3779B9u)), hn::Set(Words(), 101u * 0x85EBCA6Bu));
        const W low = scramble(hn::Xor(load(columns.idLow + i), start));
        store(unitFloat(scramble(hn::Add(hn::Xor(low, load(columns.idHigh + i)), start))), out + i);
    }
}

void runStep(Operation operation, const LaneNumber* of, const FormulaColumns& columns, int count, float* out) {
    using hn::Add, hn::Div, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), one = number(1);
    switch (operation) {
        case Operation::negate:
            return each(of, count, out, [](F a, F, F) { return hn::Neg(a); });
        case Operation::absolute:
            return each(of, count, out, [](F a, F, F) { return hn::Abs(a); });
        case Operation::sign:
            return each(of, count, out, [=](F a, F, F) { return hn::IfThenElse(hn::Eq(a, zero), zero, hn::CopySign(one, a)); });
        case Operation::floor:
            return each(of, count, out, [](F a, F, F) { return hn::Floor(a); });
        case Operation::ceil:
            return each(of, count, out, [](F a, F, F) { return hn::Ceil(a); });
        case Operation::round:
            return each(of, count, out, [](F a, F, F) { return hn::Floor(Add(a, number(0.5f))); });
        case Operation::trunc:
            return each(of, count, out, [](F a, F, F) { return truncated(a); });
        case Operation::fract:
            return each(of, count, out, [](F a, F, F) { return Sub(a, hn::Floor(a)); });
        case Operation::sqrt:
            return each(of, count, out, [](F a, F, F) { return hn::Sqrt(a); });
        case Operation::inversesqrt:
            return each(of, count, out, [=](F a, F, F) { return Div(one, hn::Sqrt(a)); });
        case Operation::exp:
            return each(of, count, out, [](F a, F, F) { return anyExp2(Mul(a, number(1.44269504089f))); });
        case Operation::log:
            return each(of, count, out, [](F a, F, F) { return Mul(anyLog2(a), number(0.69314718056f)); });
        case Operation::exp2:
            return each(of, count, out, [](F a, F, F) { return anyExp2(a); });
        case Operation::log2:
            return each(of, count, out, [](F a, F, F) { return anyLog2(a); });
        case Operation::sin:
            return each(of, count, out, [](F a, F, F) { return anySineCosine(a).sine; });
        case Operation::cos:
            return each(of, count, out, [](F a, F, F) { return anySineCosine(a).cosine; });
        case Operation::tan:
            return each(of, count, out, [](F a, F, F) {
                const SineCosine s = anySineCosine(a);
                return Div(s.sine, s.cosine);
            });
        case Operation::asin:
            return each(of, count, out, [](F a, F, F) { return Sub(number(1.57079632679f), anyArcCosine(a)); });
        case Operation::acos:
            return each(of, count, out, [](F a, F, F) { return anyArcCosine(a); });
        case Operation::atan:
            return each(of, count, out, [](F a, F, F) { return arcTangent(a); });
        case Operation::radians:
            return each(of, count, out, [](F a, F, F) { return Mul(a, number(0.01745329251994f)); });
        case Operation::degrees:
            return each(of, count, out, [](F a, F, F) { return Mul(a, number(57.2957795130823f)); });
        case Operation::chance:
            return chances(of[0], columns, count, out);
        case Operation::no:
            return each(of, count, out, [=](F a, F, F) { return Sub(one, a); });
        case Operation::add:
            return each(of, count, out, [](F a, F b, F) { return Add(a, b); });
        case Operation::subtract:
            return each(of, count, out, [](F a, F b, F) { return Sub(a, b); });
        case Operation::multiply:
            return each(of, count, out, [](F a, F b, F) { return Mul(a, b); });
        case Operation::divide:
            return each(of, count, out, [](F a, F b, F) { return Div(a, b); });
        case Operation::mod:
            return each(of, count, out, [](F a, F b, F) { return Sub(a, Mul(b, hn::Floor(Div(a, b)))); });
        case Operation::min:
            return each(of, count, out, [](F a, F b, F) { return hn::IfThenElse(hn::Lt(b, a), b, a); });
        case Operation::max:
            return each(of, count, out, [](F a, F b, F) { return hn::IfThenElse(hn::Lt(a, b), b, a); });
        case Operation::pow:
            return each(of, count, out, [](F a, F b, F) { return power(a, b); });
        case Operation::step:
            return each(of, count, out, [](F edge, F x, F) { return truth(hn::Ge(x, edge)); });
        case Operation::less:
            return each(of, count, out, [](F a, F b, F) { return truth(hn::Lt(a, b)); });
        case Operation::lessOrEqual:
            return each(of, count, out, [](F a, F b, F) { return truth(hn::Le(a, b)); });
        case Operation::equal:
            return each(of, count, out, [](F a, F b, F) { return truth(hn::Eq(a, b)); });
        case Operation::unequal:
            return each(of, count, out, [](F a, F b, F) { return truth(hn::Ne(a, b)); });
        case Operation::both:
            return each(of, count, out, [](F a, F b, F) { return Mul(a, b); });
        case Operation::either:
            return each(of, count, out, [](F a, F b, F) { return hn::Max(a, b); });
        case Operation::clamp:
            return each(of, count, out, [](F x, F low, F high) {
                const F above = hn::IfThenElse(hn::Lt(x, low), low, x);
                return hn::IfThenElse(hn::Lt(high, above), high, above);
            });
        case Operation::mix:
            return each(of, count, out, [](F a, F b, F x) { return mix(a, b, x); });
        case Operation::smoothstep:
            return each(of, count, out, [](F low, F high, F x) { return smoothStep(low, high, x); });
        case Operation::noise:
            return each(of, count, out, [](F x, F y, F z) { return hillsAt(x, y, z); });
        case Operation::select:
            return each(of, count, out, [](F condition, F yes, F no) { return hn::IfThenElse(isTrue(condition), yes, no); });
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(runStep);

namespace {

using Operand = FormulaProgram::Operand;
using Node = Expression::Node;

LaneNumber laneOf(const Operand& operand, const FormulaColumns& columns, Column* work) {
    switch (operand.from) {
        case Operand::From::constant:
            return {operand.value, nullptr};
        case Operand::From::input:
            return {0, columns.input[operand.index]};
        case Operand::From::work:
            return {0, work[operand.index]};
    }
    return {};
}

class Compiler {
  public:
    Compiler(const Expression& expression, const FormulaScope& scope) : expression_(expression), scope_(scope) {}

    FormulaProgram whole() {
        program_.result = operandOf(static_cast<int>(expression_.nodes.size()) - 1);
        return std::move(program_);
    }

  private:
    Operand operandOf(int index) {
        const Node& node = expression_.nodes[static_cast<std::size_t>(index)];
        if (node.kind == Node::Kind::constant) return constant(node.value);
        if (node.kind == Node::Kind::name) return named(node);
        if (const auto multiplied = smallPower(node)) return *multiplied;
        std::vector<Operand> of;
        for (const int part : node.of) of.push_back(operandOf(part));
        return stepOf(node.operation, of, node.place);
    }

    static Operand constant(double value) { return {Operand::From::constant, 0, static_cast<float>(value)}; }

    Operand named(const Node& node) {
        const auto source = scope_(node.name);
        if (!source) throw FormulaError("There is nothing called “" + node.name + "” here.", node.place);
        if (!source->column) return constant(source->value);
        program_.inputs |= std::uint64_t{1} << source->input;
        return {Operand::From::input, source->input, 0};
    }

    /// A small whole power is multiplied out: exact, fast and right for what is below 0.
    std::optional<Operand> smallPower(const Node& node) {
        if (node.operation != Operation::pow) return std::nullopt;
        const Node& exponent = expression_.nodes[static_cast<std::size_t>(node.of[1])];
        const int times = static_cast<int>(exponent.value);
        if (exponent.kind != Node::Kind::constant || exponent.value != times || times < 2 || times > 4) return std::nullopt;
        const Operand base = operandOf(node.of[0]);
        if (times == 3) return stepOf(Operation::multiply, {stepOf(Operation::multiply, {base, base}, node.place, true), base}, node.place);
        const Operand square = stepOf(Operation::multiply, {base, base}, node.place);
        return times == 2 ? square : stepOf(Operation::multiply, {square, square}, node.place);
    }

    /// `keep`: its operands are still read afterwards.
    Operand stepOf(Operation operation, const std::vector<Operand>& of, std::size_t place, bool keep = false) {
        FormulaProgram::Step step{operation, {}, 0};
        bool constants = operation != Operation::chance;
        for (std::size_t k = 0; k < of.size(); ++k) {
            step.of[k] = of[k];
            constants = constants && of[k].from == Operand::From::constant;
        }
        if (constants) return folded(step);
        if (!keep)
            for (const Operand& operand : of)
                if (operand.from == Operand::From::work) used_[operand.index] = false;
        int free = 0;
        while (free < formulaColumns && used_[free]) ++free;
        if (free == formulaColumns) throw FormulaError("The formula is nested too deeply here; split it over two gestures.", place);
        used_[free] = true;
        step.to = free;
        program_.steps.push_back(step);
        return {Operand::From::work, free, 0};
    }

    /// Constants are worked out by the same lanes, so that folding changes no bit.
    static Operand folded(const FormulaProgram::Step& step) {
        alignas(64) float out[16];
        LaneNumber of[3];
        for (int k = 0; k < 3; ++k) of[k].value = step.of[k].value;
        HWY_DYNAMIC_DISPATCH(runStep)(step.operation, of, FormulaColumns(), 16, out);
        return {Operand::From::constant, 0, out[0]};
    }

    const Expression& expression_;
    const FormulaScope& scope_;
    FormulaProgram program_;
    bool used_[formulaColumns] = {};
};

}  // namespace

FormulaProgram compileFormula(const Expression& expression, const FormulaScope& scope) { return Compiler(expression, scope).whole(); }

void runFormula(const FormulaProgram& program, const FormulaColumns& columns, int count, Column* work, float* out) {
    for (const auto& step : program.steps) {
        const LaneNumber of[3] = {laneOf(step.of[0], columns, work), laneOf(step.of[1], columns, work), laneOf(step.of[2], columns, work)};
        HWY_DYNAMIC_DISPATCH(runStep)(step.operation, of, columns, count, work[step.to]);
    }
    const LaneNumber result = laneOf(program.result, columns, work);
    for (int i = 0; i < count; ++i) out[i] = result.column ? result.column[i] : result.value;
}

}  // namespace gswarm
#endif
