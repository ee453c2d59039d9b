// Endless travel: what leaves a box on one side comes back on the other.
#include <algorithm>
#include <cmath>

#include "core/gesture/gesture_kind.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/gesture/stream.cpp"
#include <hwy/foreach_target.h>

#include "core/base/lanes-inl.h"
#include "core/gesture/effect-inl.h"

#ifndef GSWARM_WRAP_ONCE
#define GSWARM_WRAP_ONCE
namespace gswarm {

enum class StreamMotion { laps, speed, still };

struct Stream : GestureBasics {
    glm::vec3 centre, size;
    bool alongX, alongY, alongZ;
    StreamMotion motion;
    glm::ivec3 laps;
    glm::vec3 speed;
    float fade;
};

/// How far everything has gone at a moment, and how much further in one frame.
struct StreamTravel {
    glm::vec3 gone, perFrame;
};

}  // namespace gswarm
#endif

HWY_BEFORE_NAMESPACE();
namespace gswarm::HWY_NAMESPACE {

void streamLanes(const GestureInput& in, const Stream& stream, const StreamTravel& travel, Block& block, EffectColumns& effect) {
    using hn::Add, hn::Mul, hn::Sub;
    const Marker marker = markerFor(in, effect, positionEffect), sizes = markerFor(in, effect, scaleEffect);
    const F zero = hn::Zero(Floats()), one = number(1);
    const bool along[] = {stream.alongX, stream.alongY, stream.alongZ};
    float* const columns[] = {block.position.x, block.position.y, block.position.z};
    float* const scales[] = {block.scale.x, block.scale.y, block.scale.z};
    for (int i = 0; i < paddedCount(block); i += lanes()) {
        const Vector x = drivenVector(*block.driven, in.components, i);
        const F xs[] = {x.x, x.y, x.z};
        const F offset = read(in.offset, i);
        const auto acts = hn::Ne(load(block.weight + i), zero);
        F shrink = one;
        for (int a = 0; a < 3; ++a) {
            const F was = load(columns[a] + i);
            const F gone = Add(number(travel.gone[a]), Mul(offset, number(travel.perFrame[a])));
            F p = Add(was, Mul(gone, xs[a]));
            if (along[a]) {
                const float size = std::max(stream.size[a], 1e-6f), low = stream.centre[a] - size / 2;
                const F into = Mul(Sub(p, number(low)), number(1 / size));
                const F share = Sub(into, hn::Floor(into));
                p = Add(number(low), Mul(share, number(size)));
                if (stream.fade > 0) {
                    const F edge = Mul(hn::Min(share, Sub(one, share)), number(size / stream.fade));
                    shrink = hn::Min(shrink, smooth(clamp01(edge)));
                }
            }
            marker.mark(hn::And(acts, hn::Ne(p, was)), i);
            store(hn::IfThenElse(acts, p, was), columns[a] + i);
        }
        if (stream.fade <= 0) continue;
        sizes.mark(hn::And(acts, hn::Lt(shrink, one)), i);
        for (float* scale : scales) store(hn::IfThenElse(acts, Mul(load(scale + i), shrink), load(scale + i)), scale + i);
    }
}

}  // namespace gswarm::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace gswarm {
HWY_EXPORT(streamLanes);

namespace {

/// In laps the way is the box itself, as often as asked, so that frames a loop apart are alike to the bit.
StreamTravel travelOf(const Stream& stream, const Moment& moment) {
    StreamTravel travel{};
    for (int a = 0; a < 3; ++a) {
        if (stream.motion == StreamMotion::laps) {
            const double laps = moment.loop() * stream.laps[a];
            travel.gone[a] = static_cast<float>((laps - std::floor(laps)) * stream.size[a]);
            travel.perFrame[a] = static_cast<float>(stream.laps[a] * static_cast<double>(stream.size[a]) / moment.loopFrames);
        } else if (stream.motion == StreamMotion::speed) {
            travel.gone[a] = static_cast<float>(moment.seconds() * stream.speed[a]);
            travel.perFrame[a] = static_cast<float>(stream.speed[a] / moment.rate);
        }
    }
    return travel;
}

void apply(const GestureInput& in, Block& block, EffectColumns& effect) {
    const auto& stream = in.as<Stream>();
    HWY_DYNAMIC_DISPATCH(streamLanes)(in, stream, travelOf(stream, in.moment), block, effect);
}

/// Whole laps through its box along each axis.
std::optional<LapSettings> lapsThroughTheBox(const Part& part, const NumberNow& now, double seconds) {
    if (choiceOf(part, "motion") != "speed") return std::nullopt;
    double along[3];
    for (int c = 0; c < 3; ++c) along[c] = now("speed", c) == 0 ? 0 : nearestLaps(now("speed", c) * seconds / now("size", c));
    return LapSettings{{{"motion", std::string("laps")}, {"laps", fixedNumbers({along[0], along[1], along[2]})}},
                       "whole laps through its box a loop"};
}

GestureKind streamKind() {
    DescribeGesture<Stream> d("stream", "Stream", "Lets instances travel endlessly through a box");
    d.length("centre", &Stream::centre, {0, 0, 0}, {-10, 10}, "Middle of the box, in the swarm")
        .length("size", &Stream::size, {10, 10, 10}, {0.5, 40}, "Of the box")
        .hard(1e-3, 1e6)
        .toggle("alongX", &Stream::alongX, true, "What leaves on one side along X comes back on the other")
        .label("Wraps along X")
        .toggle("alongY", &Stream::alongY, false, "What leaves below comes back above")
        .label("Wraps along Y")
        .toggle("alongZ", &Stream::alongZ, true, "What leaves on one side along Z comes back on the other")
        .label("Wraps along Z")
        .choice("motion", &Stream::motion, {{"laps", "Laps: loops exactly"}, {"speed", "Speed"}, {"still", "Only wraps"}},
                "How it travels; only wraps: earlier gestures move it")
        .wholes("laps", &Stream::laps, {1, 0, 0}, {-4, 4},
                "How often it goes through the whole box in one loop; whole shares of it loop too")
        .hard(-1000, 1000)
        .only("motion", {"laps"})
        .length("speed", &Stream::speed, {2, 0, 0}, {-10, 10}, "How fast all travel, per axis")
        .unit("m/s")
        .only("motion", {"speed"})
        .length("fade", &Stream::fade, 0, {0, 4}, "Near the sides instances shrink over this width, so that the jump is not seen")
        .hard(0, 1e6);
    GestureKind kind = makes(d, apply);
    kind.inLaps = lapsThroughTheBox;
    kind.boxAroundHomes = true;
    kind.moves = [](const void* data) { return static_cast<const Stream*>(data)->motion != StreamMotion::still; };
    return kind;
}

}  // namespace

const GestureKind streamGesture = streamKind();

}  // namespace gswarm
#endif
