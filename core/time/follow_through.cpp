#include "core/time/follow_through.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/time/follow_through.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void stepWeightsLanes(const WeightStep& step, const float* const* from, int count, float* weight, float* const* to) {
    using hn::Add, hn::Max, hn::Min, hn::Mul, hn::Sub;
    const F zero = hn::Zero(Floats()), frames = number(step.frames), holds = number(step.holds);
    const F rise = number(step.rise), fade = number(step.fadePerFrame);
    for (int i = 0; i < count; i += lanes()) {
        const F in = load(weight + i);
        F now = in, left = holds;
        if (from) {
            const F before = load(from[0] + i), leftBefore = load(from[1] + i);
            const auto known = hn::Eq(before, before);
            const auto up = hn::Ge(in, before);
            const F fading = Max(Sub(frames, leftBefore), zero);
            const F moved = hn::IfThenElse(up, Min(in, Add(before, rise)), Max(in, Sub(before, Mul(fading, fade))));
            now = hn::IfThenElse(known, moved, in);
            left = hn::IfThenElse(hn::And(known, hn::Not(up)), Max(Sub(leftBefore, frames), zero), holds);
        }
        store(now, weight + i);
        if (!to) continue;
        store(now, to[0] + i);
        store(left, to[1] + i);
    }
}

void stepDrivenLanes(const OscillatorStep& step, bool speed, const float* const* from, int count, float* driven, float* const* to) {
    using hn::Add, hn::Mul, hn::Sub;
    const int input = speed ? 2 : 1;
    const F zero = hn::Zero(Floats());
    for (int i = 0; i < count; i += lanes()) {
        const F in = load(driven + i);
        F now = in, velocity = zero;
        if (from) {
            const F before = load(from[0] + i), inBefore = load(from[input] + i);
            const auto known = hn::Eq(before, before);
            const F e = Sub(before, inBefore), v = speed ? load(from[1] + i) : zero, gone = Sub(in, inBefore);
            const F away = Add(Add(Mul(e, number(step.ee)), Mul(v, number(step.ev))), Mul(gone, number(step.eg)));
            const F faster = Add(Add(Mul(e, number(step.ve)), Mul(v, number(step.vv))), Mul(gone, number(step.vg)));
            now = hn::IfThenElse(known, Add(in, away), in);
            velocity = hn::IfThenElseZero(known, faster);
        }
        store(now, driven + i);
        if (!to) continue;
        store(now, to[0] + i);
        if (speed) store(velocity, to[1] + i);
        store(in, to[input] + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

namespace gswarm {
HWY_EXPORT(stepWeightsLanes);
HWY_EXPORT(stepDrivenLanes);

void stepWeights(const WeightStep& step, const float* const* from, int count, float* weight, float* const* to) {
    HWY_DYNAMIC_DISPATCH(stepWeightsLanes)(step, from, count, weight, to);
}
void stepDriven(const OscillatorStep& step, bool speed, const float* const* from, int count, float* driven, float* const* to) {
    HWY_DYNAMIC_DISPATCH(stepDrivenLanes)(step, speed, from, count, driven, to);
}

OscillatorStep springStep(double frequency, double damping, double frames, double rate) {
    const double w = 2 * 3.14159265358979323846 * frequency / rate, t = frames;  // per frame
    const double z = damping, decay = std::exp(-z * w * t);
    double c, s;  // the solutions that begin with (1, 0) and (0, 1), without the decay
    if (z < 1 - 1e-6) {
        const double wd = w * std::sqrt(1 - z * z);
        c = std::cos(wd * t);
        s = std::sin(wd * t) / wd;
    } else if (z > 1 + 1e-6) {
        const double wd = w * std::sqrt(z * z - 1);
        c = std::cosh(wd * t);
        s = std::sinh(wd * t) / wd;
    } else {
        c = 1;
        s = t;
    }
    const double ee = decay * (c + z * w * s), ev = decay * s, ve = -decay * w * w * s, vv = decay * (c - z * w * s);
    // Behind a target of an even speed it comes to rest at this many frames of its way.
    const double behind = 2 * z / w;
    const double eg = t > 0 ? (behind * (ee - 1) - ev) / t : 0, vg = t > 0 ? (behind * ve - vv + 1) / t : 0;
    const auto f = [](double v) { return static_cast<float>(v); };
    return {f(ee), f(ev), f(eg), f(ve), f(vv), f(vg)};
}

OscillatorStep lagStep(double lag, double frames) {
    if (lag <= 0 || frames <= 0) return {lag <= 0 ? 0.0f : 1.0f};
    const double perFrame = -std::log(0.05) / lag, left = std::exp(-perFrame * frames);
    return {static_cast<float>(left), 0, static_cast<float>((left - 1) / (perFrame * frames))};
}

WeightStep weightStep(const FollowThrough& follow, double frames) {
    constexpr double atOnce = 1e9;
    const auto perFrame = [](float over) { return over > 0 ? 1 / double(over) : atOnce; };
    const bool holds = follow.weight == WeightMemory::hold;
    return {static_cast<float>(std::min(perFrame(follow.rises) * frames, atOnce)), static_cast<float>(frames), holds ? follow.holds : 0,
            static_cast<float>(perFrame(follow.fades))};
}

}  // namespace gswarm
#endif
