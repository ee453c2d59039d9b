#include "core/gesture/response.h"

#include "core/scene/describe.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/response.cpp"
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

int respondLanes(const Response& r, bool isSigned, int count, float* values) {
    using hn::Add, hn::Mul, hn::Sub;
    const F low = number(std::min(r.outLow, r.outHigh)), high = number(std::max(r.outLow, r.outHigh));
    const float span = r.inHigh - r.inLow;
    const F scale = number(span != 0 ? 1 / span : 0);
    int cut = 0;
    for (int i = 0; i < count; i += lanes()) {
        F x = load(values + i);
        if (r.invert) x = isSigned ? hn::Neg(x) : Sub(number(1), x);
        x = Mul(Sub(x, number(r.inLow)), scale);
        if (r.curve != ResponseCurve::straight) x = bend(r.curve, x);
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
    return !r.invert && r.inLow == r.outLow && r.inHigh == r.outHigh && r.inLow != r.inHigh && r.curve == ResponseCurve::straight &&
           !r.clip;
}

int respond(const Response& response, bool isSigned, int count, float* values) {
    return changesNothing(response) ? 0 : HWY_DYNAMIC_DISPATCH(respondLanes)(response, isSigned, count, values);
}

const Kind responseKind =
    Describe<Response, Kind>(Family::response, "response", "Response", "From a raw value to the value used")
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
                {{"straight", "Straight"}, {"slowStart", "Slow start"}, {"slowEnd", "Slow end"}, {"slowBoth", "Slow start and end"}},
                "How it goes from one end to the other")
        .toggle("clip", &Response::clip, false, "Cuts off what lies beyond the upper or lower end; off lets an overshoot pass")
        .kind();

}  // namespace gswarm
#endif
