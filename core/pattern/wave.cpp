// Waves that run along the number, a direction or outward.
#include "core/pattern/wave.h"

#include <glm/geometric.hpp>

#include "core/pattern/pattern_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/pattern/wave.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

/// x in crests, 0 … 1 within one.
HWY_INLINE F waveForm(WaveForm form, F x) {
    using hn::Add, hn::Mul, hn::Sub;
    const F one = number(1), two = number(2);
    switch (form) {
        case WaveForm::sine:
            return sineCosine(Mul(x, number(6.28318530718f))).sine;
        case WaveForm::triangle: {
            const F shifted = Add(x, number(0.25f));
            const F into = Sub(shifted, hn::Floor(shifted));
            return Sub(one, hn::Abs(Sub(Mul(into, number(4)), two)));
        }
        case WaveForm::square:
            return hn::IfThenElse(hn::Lt(x, number(0.5f)), one, number(-1));
        case WaveForm::saw:
            return Sub(Mul(x, two), one);
    }
    return x;
}

void fillWave(const Wave& wave, const glm::vec3& direction, const PatternInput& in, Columns3& out) {
    using hn::Add, hn::Mul, hn::Sub;
    const Block& block = in.block;
    const bool laps = wave.motion == WaveMotion::laps, moves = wave.motion != WaveMotion::still;
    const double lapsNow = laps ? in.moment.loop() * wave.laps : moves ? in.moment.seconds() * wave.speed : 0;
    const float now = static_cast<float>(lapsNow - std::floor(lapsNow) - wave.phase * 0.15915494309);
    const float perFrame = static_cast<float>(laps ? wave.laps / in.moment.loopFrames : moves ? wave.speed / in.moment.rate : 0);
    const F perMetre = number(1 / wave.length);
    const glm::vec3 middle = in.range.centre();
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        F x;
        if (wave.along == WaveAlong::number) {
            x = Mul(load(block.order + i), hn::Div(number(wave.crests), lastOf(load(block.stretch + i))));
        } else {
            const Vector p{load(in.place.x + i), load(in.place.y + i), load(in.place.z + i)};
            if (wave.along == WaveAlong::direction) {
                x = Mul(dot(p, {number(direction.x), number(direction.y), number(direction.z)}), perMetre);
            } else {
                const Vector r{Sub(p.x, number(middle.x)), Sub(p.y, number(middle.y)), Sub(p.z, number(middle.z))};
                x = Mul(hn::Sqrt(dot(r, r)), perMetre);
            }
        }
        x = Sub(x, Add(number(now), Mul(read(in.offset, i), number(perFrame))));
        store(waveForm(wave.form, Sub(x, hn::Floor(x))), out.x + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(fillWave);

namespace {

void fill(const Wave& wave, const PatternInput& in, Columns3& out) {
    const float length = glm::length(wave.direction);
    const glm::vec3 direction = length > 0 ? wave.direction / length : glm::vec3(1, 0, 0);
    HWY_DYNAMIC_DISPATCH(fillWave)(wave, direction, in, out);
}

bool moves(const Wave& wave) { return wave.motion != WaveMotion::still; }

}  // namespace

const PatternKind wavePattern = lapping(
    moving(makes(DescribePattern<Wave>("wave", "Wave", "Crests that run through the swarm")
                     .found("sine oscillate ripple saw square pulse")
                     .choice("form", &Wave::form, {{"sine", "Sine"}, {"triangle", "Triangle"}, {"square", "Square"}, {"saw", "Saw"}},
                             "The form of a crest")
                     .choice("along", &Wave::along, {{"number", "Number"}, {"direction", "Direction"}, {"radius", "Outward"}},
                             "Which way it runs")
                     .number("crests", &Wave::crests, 2, {0, 12}, "How many crests fit on the swarm")
                     .hard(-1e5, 1e5)
                     .only("along", {"number"})
                     .length("length", &Wave::length, 4, {0.2, 20}, "From crest to crest")
                     .hard(1e-3, 1e6)
                     .only("along", {"direction", "radius"})
                     .number("direction", &Wave::direction, {1, 0, 0}, {-1, 1}, "The way it runs")
                     .only("along", {"direction"})
                     .choice("motion", &Wave::motion, {{"laps", "Laps: loops exactly"}, {"speed", "Speed"}, {"still", "Still"}},
                             "How it moves with time")
                     .whole("laps", &Wave::laps, 1, {-8, 8}, "Crests that pass in one loop")
                     .hard(-1000, 1000)
                     .only("motion", {"laps"})
                     .number("speed", &Wave::speed, 0.5, {-4, 4}, "How fast crests pass")
                     .unit("crests/s")
                     .hard(-1000, 1000)
                     .only("motion", {"speed"})
                     .angle("phase", &Wave::phase, 0, {-180, 180}, "Shifts the wave by a part of a crest"),
                 PatternRange::minusOneToOne, oneComponent<Wave>, fill),
           moves),
    speedInLaps);

}  // namespace gswarm
#endif
