#include "core/gesture/stagger.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/stagger.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

HWY_INLINE F easeOrder(StaggerEase ease, F x) {
    switch (ease) {
        case StaggerEase::straight:
            return x;
        case StaggerEase::slowStart:
            return hn::Mul(x, x);
        case StaggerEase::slowEnd:
            return hn::Mul(x, hn::Sub(number(2), x));
        case StaggerEase::slowBoth:
            return smooth(x);
    }
    return x;
}

void staggerLanes(const Stagger& s, const Block& block, float low, float scale, float* offset) {
    using hn::Mul, hn::Sub;
    const F last = number(static_cast<float>(block.total > 1 ? block.total - 1 : 1));
    const float* place = columnOf(block.home.position, s.axis);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        F order = hn::Zero(Floats());
        if (s.by == StaggerBy::number) order = hn::Div(load(block.number + i), last);
        if (s.by == StaggerBy::axis) order = Mul(Sub(load(place + i), number(low)), number(scale));
        if (s.by == StaggerBy::random)
            order = chance(static_cast<std::uint32_t>(s.seed), load(block.home.idLow + i), load(block.home.idHigh + i), 77);
        order = clamp01(order);
        if (s.reversed) order = Sub(number(1), order);
        store(Mul(easeOrder(s.ease, order), number(-s.over)), offset + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(staggerLanes);

void stagger(const Stagger& s, const Block& block, const Bounds& homes, float* offset) {
    const int axis = static_cast<int>(s.axis);
    const float length = homes.high[axis] - homes.low[axis];
    HWY_DYNAMIC_DISPATCH(staggerLanes)(s, block, homes.low[axis], length > 0 ? 1 / length : 0, offset);
}

const Kind staggerKind =
    Describe<Stagger, Kind>(Family::stagger, "stagger", "Stagger", "A time shift for each instance")
        .choice("by", &Stagger::by, {{"none", "All at once"}, {"number", "By number"}, {"axis", "Along an axis"}, {"random", "At random"}},
                "Who starts when")
        .number("over", &Stagger::over, 25, {0, 200}, "How long after the first the last one starts")
        .unit("frames")
        .label("Last starts after")
        .hard(-1e5, 1e5)
        .only("by", {"number", "axis", "random"})
        .choice("axis", &Stagger::axis, axisChoices(), "Starts at the low end of this axis")
        .only("by", {"axis"})
        .toggle("reversed", &Stagger::reversed, false, "The last becomes the first")
        .only("by", {"number", "axis", "random"})
        .choice("ease", &Stagger::ease,
                {{"straight", "Even"}, {"slowStart", "Slow start"}, {"slowEnd", "Slow end"}, {"slowBoth", "Slow start and end"}},
                "How the starts are spread over that time")
        .label("Spread")
        .only("by", {"number", "axis", "random"})
        .whole("seed", &Stagger::seed, 1, {0, 1000}, "Another seed, another order")
        .hard(0, 1e9)
        .only("by", {"random"})
        .kind();

}  // namespace gswarm
#endif
