#include "core/gesture/stagger.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/shape/shape_kind.h"

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

HWY_INLINE F awayFrom(const glm::vec3& place, const Block& block, int i) {
    const Vector d{hn::Sub(load(block.home.position.x + i), number(place.x)), hn::Sub(load(block.home.position.y + i), number(place.y)),
                   hn::Sub(load(block.home.position.z + i), number(place.z))};
    return hn::Sqrt(dot(d, d));
}

void staggerLanes(const Stagger& s, const Block& block, float low, float scale, float* offset) {
    using hn::Mul, hn::Sub;
    const float* place = columnOf(block.home.position, s.axis);
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        F order = hn::Zero(Floats());
        if (s.by == StaggerBy::number) order = hn::Div(load(block.order + i), lastOf(load(block.stretch + i)));
        if (s.by == StaggerBy::axis) order = Mul(Sub(load(place + i), number(low)), number(scale));
        if (s.by == StaggerBy::random)
            order = s.column < 0 ? chance(static_cast<std::uint32_t>(s.seed), load(block.home.idLow + i), load(block.home.idHigh + i), 77)
                                 : chance(static_cast<std::uint32_t>(s.seed), hn::BitCast(Words(), load(block.named[s.column] + i)),
                                          hn::Zero(Words()), 77);
        if (s.by == StaggerBy::distance) order = Mul(Sub(awayFrom(s.place, block, i), number(s.low)), number(s.scale));
        if (s.by == StaggerBy::value) order = load(block.named[s.column] + i);
        if (s.by == StaggerBy::curve) order = load(offset + i);
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

namespace {

/// How far along the curve the nearest place to each home is, 0 … 1.
void shareAlong(const MeasuredCurve& curve, const Block& block, float* out) {
    const auto length = static_cast<float>(std::max(curve.length(), 1e-9));
    const Columns3& home = block.home.position;
    for (int i = 0; i < paddedCount(block); ++i)
        out[i] = static_cast<float>(curve.nearestTo({home.x[i], home.y[i], home.z[i]}).distance) / length;
}

}  // namespace

void prepareStagger(Stagger& stagger, const RailSource& source) {
    if (stagger.by == StaggerBy::curve) {
        const auto shape = source.shape(stagger.curve);
        if (shape->curves.empty()) throw Error("The shape along which it starts has no curve; choose another one.");
        stagger.along = std::make_shared<const MeasuredCurve>(shape->curves.front());
    }
    if (stagger.by == StaggerBy::distance) stagger.place = source.swarm.fromWorld(source.pose(stagger.thing).position);
    if (stagger.by == StaggerBy::value) stagger.column = source.column(stagger.value);
    if (stagger.by == StaggerBy::random && stagger.together) stagger.column = source.column(stagger.together);
}

void stagger(const Stagger& s, const Block& block, const Bounds& homes, float* offset) {
    const int axis = static_cast<int>(s.axis);
    const float length = homes.high[axis] - homes.low[axis];
    if (s.by == StaggerBy::curve) shareAlong(*s.along, block, offset);
    HWY_DYNAMIC_DISPATCH(staggerLanes)(s, block, homes.low[axis], length > 0 ? 1 / length : 0, offset);
}

const Kind staggerKind =
    Describe<Stagger, Kind>(Family::stagger, "stagger", "Stagger", "A time shift for each instance")
        .choice("by", &Stagger::by,
                {{"none", "All at once"},
                 {"number", "By number"},
                 {"axis", "Along an axis"},
                 {"curve", "Along a curve"},
                 {"distance", "By distance"},
                 {"value", "By a named value"},
                 {"random", "At random"}},
                "Who starts when")
        .label("Starts")
        .number("over", &Stagger::over, 25, {0, 200}, "How long after the first the last one starts")
        .unit("frames")
        .label("Last starts after")
        .hard(-1e5, 1e5)
        .only("by", {"number", "axis", "curve", "distance", "value", "random"})
        .choice("axis", &Stagger::axis, axisChoices(), "Starts at the low end of this axis")
        .only("by", {"axis"})
        .reference("curve", &Stagger::curve, {ObjectType::shape}, "Starts at its beginning; shapes lie where the swarm stands")
        .only("by", {"curve"})
        .reference("thing", &Stagger::thing, {ObjectType::zone, ObjectType::mount, ObjectType::swarm, ObjectType::camera},
                   "What is nearest to it starts first")
        .label("From")
        .only("by", {"distance"})
        .reference("value", &Stagger::value, {ObjectType::namedValue}, "Where it is 0 starts first, where it is 1 last")
        .label("Named value")
        .only("by", {"value"})
        .reference("together", &Stagger::together, {ObjectType::namedValue}, "Those for which this value is the same start together")
        .optional()
        .only("by", {"random"})
        .since(2)
        .toggle("reversed", &Stagger::reversed, false, "The last becomes the first")
        .only("by", {"number", "axis", "curve", "distance", "value", "random"})
        .choice("ease", &Stagger::ease,
                {{"straight", "Even"}, {"slowStart", "Slow start"}, {"slowEnd", "Slow end"}, {"slowBoth", "Slow start and end"}},
                "How the starts are spread over that time")
        .label("Spread")
        .only("by", {"number", "axis", "curve", "distance", "value", "random"})
        .whole("seed", &Stagger::seed, 1, {0, 1000}, "Another seed, another order")
        .hard(0, 1e9)
        .only("by", {"random"})
        .migrated({2, {}, nullptr})
        .kind();

}  // namespace gswarm
#endif
