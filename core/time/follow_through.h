#pragma once
#include "core/scene/object_kinds.h"

namespace gswarm {

/// One step of a damped oscillator whose target runs evenly from where it was to where it is, exact for any length of step.
/// With e the distance from the target, v the speed a frame and g how far the target has gone:
/// e' = ee·e + ev·v + eg·g, v' = ve·e + vv·v + vg·g. A lag has no speed.
struct OscillatorStep {
    float ee = 0, ev = 0, eg = 0, ve = 0, vv = 0, vg = 0;
};
/// Over `frames`; frequency in swings a second above 0, damping 0 … 10.
OscillatorStep springStep(double frequency, double damping, double frames, double rate);
/// Exponential approach: after `lag` frames 5 % of the distance is left; 0 arrives at once.
OscillatorStep lagStep(double lag, double frames);

/// How far a weight may move in one step: up by `rise`, and down by what is left of the step after the hold.
struct WeightStep {
    float rise = 0;          ///< largest rise in the step
    float frames = 0;        ///< of the step
    float holds = 0;         ///< frames
    float fadePerFrame = 0;  ///< largest fall a frame
};
WeightStep weightStep(const FollowThrough& follow, double frames);

/// The kernels work in place on columns up to `count`, a multiple of 16. States that are no number begin settled: at the
/// input, without speed. Without `from` all do. `from` and `to` may be the same columns; `to` may be null.
/// stepWeights remembers the weight and what is left of its hold; stepDriven what it gave, its speed where it has one, and
/// its input.
void stepWeights(const WeightStep& step, const float* const* from, int count, float* weight, float* const* to);
void stepDriven(const OscillatorStep& step, bool speed, const float* const* from, int count, float* driven, float* const* to);

}  // namespace gswarm
