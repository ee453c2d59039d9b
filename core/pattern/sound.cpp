// Rises and falls with a sound: its level, its bands, its strokes, now or in the past.
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/pattern/pattern_kind.h"
#include "core/sound/sound_reading.h"

namespace gswarm {
namespace {

/// What tells instances apart.
enum class SoundOver { number, x, y, z, radius };
enum class SoundPast { now, number, x, y, z, radius };

struct SoundPattern : SoundReading {
    SoundOver over;
    SoundPast past;
    float each, span;  ///< frames: from one instance to the next, or from one side to the other
    HeardSound heard;
};

bool isOfPlaces(SoundPast past) { return past >= SoundPast::x; }

/// Where an instance is from one side of the swarm to the other, or from its middle outward, 0 … 1.
float shareOf(const PatternInput& in, int i, SoundOver over) {
    if (over == SoundOver::number) return (in.block.order[i] + 0.5f) / std::max(1.0f, in.block.stretch[i]);
    const glm::vec3 size = in.range.size();
    if (over == SoundOver::radius) {
        const float reach = 0.5f * std::max({size.x, size.y, size.z});
        const glm::vec3 place(in.place.x[i], in.place.y[i], in.place.z[i]);
        return reach > 0 ? std::min(1.0f, glm::distance(place, in.range.centre()) / reach) : 0;
    }
    const int axis = static_cast<int>(over) - static_cast<int>(SoundOver::x);
    const float* place = axis == 0 ? in.place.x : axis == 1 ? in.place.y : in.place.z;
    return size[axis] > 0 ? std::clamp((place[i] - in.range.low[axis]) / size[axis], 0.0f, 1.0f) : 0;
}

void fill(const SoundPattern& p, const PatternInput& in, Columns3& out) {
    const int columns = p.heard.values->columns();
    const bool late = p.past != SoundPast::now, apart = columns > 1;
    const auto pastOver = static_cast<SoundOver>(std::max(0, static_cast<int>(p.past) - 1));
    for (int i = 0; i < paddedCount(in.block); ++i) {
        double frame = in.moment.frame + double(in.offset.column ? in.offset.column[i] : in.offset.value);
        if (late)
            frame -= p.past == SoundPast::number ? double(p.each) * double(in.block.order[i])
                                                 : double(p.span) * double(shareOf(in, i, pastOver));
        const int column = apart ? std::clamp(static_cast<int>(shareOf(in, i, p.over) * static_cast<float>(columns)), 0, columns - 1) : 0;
        out.x[i] = p.heard.at(frame, column);
    }
}

void prepare(SoundPattern& p, const RailSource& source) { p.heard = hear(p, source); }

PatternKind soundKind() {
    DescribePattern<SoundPattern> d("sound", "Sound", "Rises and falls with a sound: its level, its bands, its strokes");
    d.found("audio music beat spectrum equalizer frequency volume bass drum level band onset microphone waveform react");
    describeReading(d, true);
    d.choice("over", &SoundPattern::over, {{"number", "Number"}, {"x", "X"}, {"y", "Y"}, {"z", "Z"}, {"radius", "Radius"}},
             "Over what the bands lie, from the lowest to the highest: the instances' numbers, an axis of the swarm, or from its middle "
             "outward")
        .only("read", {"bands"});
    d.choice("past", &SoundPattern::past, {{"now", "Now"}, {"number", "Number"}, {"x", "X"}, {"y", "Y"}, {"z", "Z"}, {"radius", "Radius"}},
             "Which moment each hears: all this one, or the past runs along the numbers, an axis, or from the middle outward")
        .label("Past along");
    d.number("each", &SoundPattern::each, 1, {0, 10}, "Frames that each instance hears later than the one before")
        .unit("f")
        .hard(-1000, 1000)
        .only("past", {"number"});
    d.number("span", &SoundPattern::span, 25, {0, 100}, "Frames that one side hears later than the other")
        .unit("f")
        .hard(-1e5, 1e5)
        .only("past", {"x", "y", "z", "radius"});
    PatternKind kind = moving(
        preparing(makes(d, PatternRange::zeroToOne, oneComponent<SoundPattern>, fill), prepare), +[](const SoundPattern&) { return true; });
    return readingRange(
        kind, +[](const SoundPattern& p) { return isOfPlaces(p.past) || (p.read == SoundRead::bands && p.over != SoundOver::number); });
}

}  // namespace

const PatternKind soundPattern = soundKind();

}  // namespace gswarm
