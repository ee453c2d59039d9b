#include "core/response/response.h"

#include "core/scene/describe.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/response/response.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// Bends 0 … 1, the same mirrored below 0, and lets what lies beyond ± 1 pass unbent.
HWY_INLINE F bend(ResponseCurve curve, F x) {
    using hn::Mul, hn::Sub;
    const F size = hn::Abs(x), one = number(1);
    F bent = size;
    if (curve == ResponseCurve::slowStart) bent = Mul(size, size);
    if (curve == ResponseCurve::slowEnd) bent = Mul(size, Sub(number(2), size));
    if (curve == ResponseCurve::slowBoth) bent = smooth(size);
    return hn::IfThenElse(hn::Ge(size, one), x, hn::CopySign(bent, x));
}

/// Straight on before the first point and after the last one.
HWY_INLINE F drawn(const CurveTable& table, F x) {
    F value = hn::Zero(Floats());
    for (int k = 0; k < table.count; ++k) {
        const auto& piece = table.piece[k];
        const F s = hn::Sub(x, number(piece.at));
        F v = hn::Add(number(piece.c2), hn::Mul(s, number(piece.c3)));
        v = hn::Add(number(piece.c1), hn::Mul(s, v));
        v = hn::Add(number(piece.c0), hn::Mul(s, v));
        value = k == 0 ? v : hn::IfThenElse(hn::Ge(x, number(piece.at)), v, value);
    }
    return value;
}

int respondLanes(const Response& r, bool isSigned, int count, float* values) {
    using hn::Add, hn::Mul, hn::Sub;
    const F low = number(std::min(r.outLow, r.outHigh)), high = number(std::max(r.outLow, r.outHigh));
    const float span = r.inHigh - r.inLow;
    const F scale = number(span != 0 ? 1 / span : 0);
    const float spread = r.most - r.least;
    const F perSpread = number(spread > 0 ? 1 / spread : 0);
    int cut = 0;
    for (int i = 0; i < count; i += lanes()) {
        F x = load(values + i);
        if (r.normalise) {
            x = Mul(Sub(x, number(r.least)), perSpread);
            if (isSigned) x = Sub(Add(x, x), number(1));
        }
        if (r.invert) x = isSigned ? hn::Neg(x) : Sub(number(1), x);
        x = Mul(Sub(x, number(r.inLow)), scale);
        if (r.curve == ResponseCurve::drawn)
            x = isSigned ? hn::CopySign(drawn(r.table, hn::Abs(x)), x) : drawn(r.table, x);
        else if (r.curve != ResponseCurve::straight)
            x = bend(r.curve, x);
        if (r.steps > 1) {
            const F top = number(static_cast<float>(r.steps - 1));
            x = hn::Div(hn::Min(hn::Floor(Mul(x, number(static_cast<float>(r.steps)))), top), top);
        }
        x = Add(number(r.outLow), Mul(x, number(r.outHigh - r.outLow)));
        if (r.clip) {
            const F clipped = hn::Min(hn::Max(x, low), high);
            const auto inside = hn::FirstN(Floats(), static_cast<std::size_t>(count - i));
            cut += static_cast<int>(hn::CountTrue(Floats(), hn::And(inside, hn::Ne(clipped, x))));
            x = clipped;
        }
        store(x, values + i);
    }
    return cut;
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(respondLanes);

bool changesNothing(const Response& r) {
    return !r.invert && !r.normalise && r.steps < 2 && r.inLow == r.outLow && r.inHigh == r.outHigh && r.inLow != r.inHigh &&
           r.curve == ResponseCurve::straight && !r.clip;
}

int respond(const Response& response, bool isSigned, int count, float* values) {
    return changesNothing(response) ? 0 : HWY_DYNAMIC_DISPATCH(respondLanes)(response, isSigned, count, values);
}

float respondOne(const Response& response, bool isSigned, float value) {
    alignas(64) float column[16] = {value};
    respond(response, isSigned, 1, column);
    return column[0];
}

/// Hermite pieces between the points, each with its own slopes.
CurveTable tableOf(const CurvePoints& points) {
    CurveTable table;
    const auto add = [&](double at, double c0, double c1, double c2, double c3) {
        table.piece[table.count++] = {static_cast<float>(at), static_cast<float>(c0), static_cast<float>(c1), static_cast<float>(c2),
                                      static_cast<float>(c3)};
    };
    if (points.empty()) return table;
    add(points.front().at, points.front().value, points.front().in, 0, 0);
    for (std::size_t k = 0; k + 1 < points.size() && k + 1 < mostCurvePoints; ++k) {
        const CurvePoint &a = points[k], &b = points[k + 1];
        const double d = b.at - a.at, rise = (b.value - a.value) / d;
        add(a.at, a.value, a.out, (3 * rise - 2 * a.out - b.in) / d, (a.out + b.in - 2 * rise) / (d * d));
    }
    add(points.back().at, points.back().value, points.back().out, 0, 0);
    return table;
}

const Kind responseKind =
    Describe<Response, Kind>(Family::response, "response", "Response", "From a raw value to the value used")
        .toggle("normalise", &Response::normalise, false,
                "Spreads what there is over 0 to 1, from the least to the most in the whole swarm")
        .toggle("invert", &Response::invert, false, "Turns the value round before anything else")
        .number("inLow", &Response::inLow, 0, {-1, 1}, "The raw value that becomes the lower end")
        .label("From, low")
        .number("inHigh", &Response::inHigh, 1, {-1, 1}, "The raw value that becomes the upper end")
        .label("From, high")
        .number("outLow", &Response::outLow, 0, {-1, 2}, "What the lower end becomes")
        .label("To, low")
        .number("outHigh", &Response::outHigh, 1, {-1, 2}, "What the upper end becomes")
        .label("To, high")
        .choice("curve", &Response::curve,
                {{"straight", "Straight"},
                 {"slowStart", "Slow start"},
                 {"slowEnd", "Slow end"},
                 {"slowBoth", "Slow start and end"},
                 {"drawn", "As drawn"}},
                "How it goes from one end to the other")
        .curve("points", &Response::points, {{0, 0, 1, 1}, {1, 1, 1, 1}}, "Drag points and their handles; double-click adds one")
        .label("Drawn")
        .only("curve", {"drawn"})
        .whole("steps", &Response::steps, 0, {0, 12}, "Only this many different values; 0 or 1 for all between")
        .hard(0, 10000)
        .toggle("clip", &Response::clip, false, "Cuts off what lies beyond the upper or lower end; off lets an overshoot pass")
        .kind();

}  // namespace gswarm
#endif
