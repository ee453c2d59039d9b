// Zone of a sound: everywhere alike, as strongly as the sound is loud.
#include <algorithm>

#include "core/sound/sound_reading.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct SoundZone : SoundReading {
    HeardSound heard;
};

void weigh(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<SoundZone>();
    if (!in.offset.column) {
        std::fill_n(weight, in.count, zone.heard.at(in.moment.frame + double(in.offset.value), 0));
        return;
    }
    for (int i = 0; i < in.count; ++i) weight[i] = zone.heard.at(in.moment.frame + double(in.offset.column[i]), 0);
}

ZoneKind soundKind() {
    DescribeZone<SoundZone> d("sound", "Sound", "Acts everywhere while a sound is loud, or at its strokes");
    d.found("audio music beat volume bass drum level band onset microphone react");
    describeReading(d, false);
    ZoneKind kind = preparing(
        makes(d.kind(), weigh), +[](SoundZone& zone, const RailSource& source) { zone.heard = hear(zone, source); });
    kind.moves = [](const void*) { return true; };
    return kind;
}

}  // namespace

const ZoneKind soundZone = soundKind();

}  // namespace gswarm
