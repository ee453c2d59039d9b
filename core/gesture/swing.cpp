// Lets the finished instances lag behind or swing like springs: a card of its own, so that its place in the order is seen.
#include "core/time/follow_through.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/swing.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"

#ifndef GSWARM_SWING_CPP_
#define GSWARM_SWING_CPP_
namespace gswarm {

enum class FollowHow { spring, lag };
struct Springing : GestureBasics {
    FollowHow how;
    float lag, frequency, damping;
    bool position, rotation, scale, loops;
};

/// What each instance remembers: place, turn and size, each with its speed and with what came in.
enum FollowColumn {
    placeColumn,
    placeSpeed = 3,
    turnColumn = 6,
    turnSpeed = 10,
    sizeColumn = 13,
    sizeSpeed = 16,
    placeInput = 19,
    turnInput = 22,
    sizeInput = 26,
    followColumns = 29
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// One step of a distance from a goal that has gone some way meanwhile.
HWY_INLINE F stepped(const OscillatorStep& step, F away, F gone, F speed, F& speedNow) {
    using hn::Add, hn::Mul;
    speedNow = Add(Add(Mul(away, number(step.ve)), Mul(speed, number(step.vv))), Mul(gone, number(step.vg)));
    return Add(Add(Mul(away, number(step.ee)), Mul(speed, number(step.ev))), Mul(gone, number(step.eg)));
}

/// The half turn's axis times its angle, radians, the shorter way.
HWY_INLINE Vector turnVector(const Quaternion& q) {
    using hn::Mul;
    const F zero = hn::Zero(Floats());
    const F sign = hn::IfThenElse(hn::Lt(q.w, zero), number(-1), number(1));
    const F sine = hn::Sqrt(dot({q.x, q.y, q.z}, {q.x, q.y, q.z}));
    const auto narrow = hn::Lt(sine, number(0.7f));  // the arc sine is the exact one for small turns
    const F arc = arcCosine(hn::IfThenElse(narrow, sine, hn::Abs(q.w)));
    const F half = hn::IfThenElse(narrow, hn::Sub(number(1.57079632679f), arc), arc);
    const F scale =
        Mul(sign, hn::IfThenElse(hn::Lt(sine, number(1e-6f)), number(2), hn::Div(Mul(number(2), half), hn::Max(sine, number(1e-6f)))));
    return {Mul(q.x, scale), Mul(q.y, scale), Mul(q.z, scale)};
}

HWY_INLINE Quaternion turnOf(const Vector& v) {
    using hn::Mul;
    const F angle = hn::Sqrt(dot(v, v));
    const SineCosine half = sineCosine(Mul(angle, number(0.5f)));
    const F scale = hn::IfThenElse(hn::Lt(angle, number(1e-6f)), number(0.5f), hn::Div(half.sine, hn::Max(angle, number(1e-6f))));
    return {Mul(v.x, scale), Mul(v.y, scale), Mul(v.z, scale), half.cosine};
}

/// Places or sizes.
void followThree(const GestureInput& in, const OscillatorStep& step, int column, int speedColumn, int inputColumn, Columns3& values,
                 Block& block, const Marker& marker) {
    float* const three[] = {values.x, values.y, values.z};
    const bool known = in.from && in.from[column];
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const F x = toward(in, block, i);
        auto changed = hn::Ne(x, x);
        for (int c = 0; c < 3; ++c) {
            const F goal = load(three[c] + i);
            F now = goal, speed = hn::Zero(Floats());
            if (known) {
                const F before = load(in.from[column + c] + i), goalBefore = load(in.from[inputColumn + c] + i);
                const auto wasKnown = hn::Eq(before, before);
                F speedNow;
                const F left =
                    stepped(step, hn::Sub(before, goalBefore), hn::Sub(goal, goalBefore), load(in.from[speedColumn + c] + i), speedNow);
                now = hn::IfThenElse(wasKnown, hn::Add(goal, left), goal);
                speed = hn::IfThenElseZero(wasKnown, speedNow);
            }
            if (in.to) {
                store(now, in.to[column + c] + i);
                store(speed, in.to[speedColumn + c] + i);
                store(goal, in.to[inputColumn + c] + i);
            }
            const F shown = mix(goal, now, x);
            changed = hn::Or(changed, hn::Ne(shown, goal));
            store(shown, three[c] + i);
        }
        marker.mark(changed, i);
    }
}

void followTurn(const GestureInput& in, const OscillatorStep& step, Block& block, const Marker& marker) {
    const bool anyKnown = in.from && in.from[turnColumn];
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const Quaternion goal = loadQuaternion(block.rotation, i);
        Quaternion now = goal;
        Vector speed{hn::Zero(Floats()), hn::Zero(Floats()), hn::Zero(Floats())};
        if (anyKnown) {
            const auto column = [&](int c) { return load(in.from[c] + i); };
            const Quaternion before{column(turnColumn), column(turnColumn + 1), column(turnColumn + 2), column(turnColumn + 3)};
            const auto known = hn::Eq(before.x, before.x);
            const Quaternion goalBefore{column(turnInput), column(turnInput + 1), column(turnInput + 2), column(turnInput + 3)};
            const Vector away = turnVector(multiply(before, conjugate(goalBefore)));
            const Vector gone = turnVector(multiply(goal, conjugate(goalBefore)));
            Vector left;
            F speeds[3];
            left.x = stepped(step, away.x, gone.x, column(turnSpeed), speeds[0]);
            left.y = stepped(step, away.y, gone.y, column(turnSpeed + 1), speeds[1]);
            left.z = stepped(step, away.z, gone.z, column(turnSpeed + 2), speeds[2]);
            const Quaternion turned = normalize(multiply(turnOf(left), goal));
            now = {hn::IfThenElse(known, turned.x, goal.x), hn::IfThenElse(known, turned.y, goal.y),
                   hn::IfThenElse(known, turned.z, goal.z), hn::IfThenElse(known, turned.w, goal.w)};
            speed = {hn::IfThenElseZero(known, speeds[0]), hn::IfThenElseZero(known, speeds[1]), hn::IfThenElseZero(known, speeds[2])};
        }
        if (in.to) {
            const F all[] = {now.x, now.y, now.z, now.w, speed.x, speed.y, speed.z};
            for (int c = 0; c < 7; ++c) store(all[c], in.to[turnColumn + c] + i);
            const F came[] = {goal.x, goal.y, goal.z, goal.w};
            for (int c = 0; c < 4; ++c) store(came[c], in.to[turnInput + c] + i);
        }
        const Quaternion shown = slerp(goal, now, toward(in, block, i));
        const Vector moved = turnVector(multiply(shown, conjugate(goal)));
        marker.mark(hn::Gt(dot(moved, moved), number(1e-12f)), i);
        storeQuaternion(shown, block.rotation, i);
    }
}

void followLanes(const GestureInput& in, const Springing& goes, const OscillatorStep& step, Block& block, EffectColumns& effect) {
    if (goes.position)
        followThree(in, step, placeColumn, placeSpeed, placeInput, block.position, block, markerFor(in, effect, positionEffect));
    if (goes.rotation) followTurn(in, step, block, markerFor(in, effect, rotationEffect));
    if (goes.scale) followThree(in, step, sizeColumn, sizeSpeed, sizeInput, block.scale, block, markerFor(in, effect, scaleEffect));
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(followLanes);

namespace {

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& goes = in.as<Springing>();
    const OscillatorStep step = goes.how == FollowHow::spring ? springStep(goes.frequency, goes.damping, in.stepFrames, in.moment.rate)
                                                              : lagStep(goes.lag, in.stepFrames);
    HWY_DYNAMIC_DISPATCH(followLanes)(in, goes, step, block, effect);
}

GestureKind swingKind() {
    DescribeGesture<Springing> d("swing", "Swing", "Lets finished instances lag behind or swing like springs");
    d.choice("how", &Springing::how, {{"spring", "Swings like a spring"}, {"lag", "Lags behind"}}, "How they come to where they are to be")
        .number("frequency", &Springing::frequency, 2, {0.2, 8}, "How often it swings")
        .unit("Hz")
        .hard(0.001, 1000)
        .only("how", {"spring"})
        .number("damping", &Springing::damping, 0.25, {0, 1}, "0 swings for ever, 1 comes to rest without swinging")
        .hard(0, 10)
        .only("how", {"spring"})
        .number("lag", &Springing::lag, 12, {0, 100}, "Until nearly all of a change has arrived")
        .unit("frames")
        .hard(0, 1e5)
        .only("how", {"lag"})
        .toggle("position", &Springing::position, true, "Positions swing or lag")
        .toggle("rotation", &Springing::rotation, true, "Rotations swing or lag")
        .toggle("scale", &Springing::scale, false, "Scales swing or lag")
        .toggle("loops", &Springing::loops, false, "Starts one loop early, so that the last frame meets the first")
        .label("Loop this memory");
    GestureKind kind = makes(d, apply);
    kind.startsEarly = [](const Part& part) { return switchOf(part, "loops"); };
    kind.remembers = [](const void* data) {
        const auto& goes = *static_cast<const Springing*>(data);
        std::vector<bool> columns(followColumns);
        const auto keep = [&](bool on, int first, int count) { std::fill_n(columns.begin() + first, count, on); };
        keep(goes.position, placeColumn, 6), keep(goes.position, placeInput, 3);
        keep(goes.rotation, turnColumn, 7), keep(goes.rotation, turnInput, 4);
        keep(goes.scale, sizeColumn, 6), keep(goes.scale, sizeInput, 3);
        return columns;
    };
    return kind;
}

}  // namespace

const GestureKind swingGesture = swingKind();

}  // namespace gswarm
#endif
