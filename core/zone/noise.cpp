// Zone of patches: noise above a threshold, lying in the zone's own axes.
#include "core/pattern/noise.h"

#include <algorithm>

#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct NoiseZone {
    Noise noise;
    float size;
    int octaves, seed;
    NoiseForm form;
    float share, softness;
    bool changes;
    int laps;
};

void prepare(NoiseZone& zone, const RailSource&) {
    zone.noise = {
        zone.form, zone.size, {1, 1, 1}, zone.octaves, zone.seed, zone.changes ? NoiseMotion::laps : NoiseMotion::still, {0, 0, 0},
        zone.laps, 4,         0,         true};
}

/// About the value that noise exceeds on that share of space: typical hills are spread nearly evenly over ± 0.7.
float thresholdOf(float share) { return 0.7f * (1 - 2 * share); }

void weigh(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<NoiseZone>();
    thread_local Columns3 values;
    runNoise(zone.noise, {in.local, in.offset, in.moment, in.count}, values);
    const float soft = std::max(zone.softness, 1e-3f), low = thresholdOf(zone.share) - soft / 2;
    for (int i = 0; i < in.count; ++i) values.x[i] -= low;
    weighDepth(values.x, {soft, nullptr}, in.count, weight);
}

ZoneKind noiseKind() {
    ZoneKind kind = preparing(
        makes(DescribeZone<NoiseZone>("noise", "Noise", "Acts in soft patches")
                  .found("random patches mask breakup clouds")
                  .length("size", &NoiseZone::size, 3, {0.2, 12}, "From one patch to the next")
                  .hard(1e-3, 1e5)
                  .number("share", &NoiseZone::share, 0.5, {0, 1}, "About how much of space it takes in")
                  .hard(-1, 2)
                  .number("softness", &NoiseZone::softness, 0.5, {0, 2}, "How gently a patch ends")
                  .hard(0, 10)
                  .choice("form", &NoiseZone::form,
                          {{"gradient", "Hills"}, {"value", "Patches"}, {"ridged", "Ridges"}, {"cellular", "Cells"}}, "What it looks like")
                  .whole("octaves", &NoiseZone::octaves, 1, {1, 8}, "Finer and finer patches on top")
                  .whole("seed", &NoiseZone::seed, 1, {0, 1000}, "Another seed, other patches")
                  .hard(0, 1e9)
                  .toggle("changes", &NoiseZone::changes, false, "Lets the patches change with time")
                  .whole("laps", &NoiseZone::laps, 1, {0, 8}, "How often they come back to where they began in one loop")
                  .hard(-1000, 1000)
                  .only("changes", {"on"})
                  .kind(),
              weigh),
        prepare);
    kind.moves = [](const void* data) { return static_cast<const NoiseZone*>(data)->changes; };
    return kind;
}

}  // namespace

const ZoneKind noiseZone = noiseKind();

}  // namespace gswarm
