// Eddies: the curl of three fields of noise, so that the current neither gathers anywhere nor thins out (after Bridson et al., “Curl-noise
// for procedural fluid flow”, 2007).
#include <algorithm>

#include "core/force/force_kind.h"
#include "core/pattern/noise.h"

namespace gswarm {
namespace {

struct Turbulence : ForceBasics {
    float speed, size;
    int octaves, seed;
    NoiseMotion motion;
    int laps, changes;
    float changing, grip;

    // Prepared.
    Noise noise{};
};

/// The noise changes by about so much over the size of a hill: with it the speed is that of an average eddy.
constexpr float curlOfAHill = 3.0f;

void prepare(Turbulence& force, const RailSource&) {
    force.noise = {NoiseForm::gradient, force.size, {1, 1, 1},     force.octaves,  force.seed, force.motion,
                   {0, 0, 0},           force.laps, force.changes, force.changing, false,      true};
}

void act(const ForceInput& in, ForceColumns& out) {
    const auto& force = in.as<Turbulence>();
    const float step = force.size / 64;
    const float each = force.grip * force.speed * force.size / (2 * step * curlOfAHill);
    thread_local Columns3 place, ahead, behind;
    const LaneNumber noOffset{};
    const auto slope = [&](int axis) {
        const float* const from[] = {in.local.x, in.local.y, in.local.z};
        float* const to[] = {place.x, place.y, place.z};
        for (const auto& [columns, by] : {std::pair{&ahead, step}, {&behind, -step}}) {
            for (int c = 0; c < 3; ++c)
                for (int i = 0; i < in.count; ++i) to[c][i] = from[c][i] + (c == axis ? by : 0);
            runNoise(force.noise, {place, noOffset, in.moment, in.count}, *columns);
        }
    };
    slope(0);
    for (int i = 0; i < in.count; ++i) {
        out.push.x[i] = 0;
        out.push.y[i] = behind.z[i] - ahead.z[i];
        out.push.z[i] = ahead.y[i] - behind.y[i];
    }
    slope(1);
    for (int i = 0; i < in.count; ++i) {
        out.push.x[i] += ahead.z[i] - behind.z[i];
        out.push.z[i] += behind.x[i] - ahead.x[i];
    }
    slope(2);
    for (int i = 0; i < in.count; ++i) {
        out.push.x[i] += behind.y[i] - ahead.y[i];
        out.push.y[i] += ahead.x[i] - behind.x[i];
    }
    for (float* column : {out.push.x, out.push.y, out.push.z})
        for (int i = 0; i < in.count; ++i) column[i] *= each;
    std::fill_n(out.grip, in.count, force.grip);
}

/// One lap, in which as much happens as at the speed.
std::optional<LapSettings> changesInOneLap(const Part& part, const NumberNow& now, double seconds) {
    if (choiceOf(part, "motion") != "speed") return std::nullopt;
    const double changes = std::clamp(std::round(std::abs(now("changing", 0)) * seconds), 1.0, 1e5);
    return LapSettings{{{"motion", std::string("laps")}, {"laps", fixedNumbers({1})}, {"changes", fixedNumbers({changes})}},
                       lapsInWords(1)};
}

ForceKind turbulenceKind() {
    DescribeForce<Turbulence> d("turbulence", "Turbulence", "Takes things along in eddies");
    d.found("turbulent curl noise swirl chaotic random flow field");
    d.number("speed", &Turbulence::speed, 2, {0, 10}, "How fast an average eddy flows").unit("m/s").hard(-1e4, 1e4);
    d.length("size", &Turbulence::size, 3, {0.2, 12}, "From one eddy to the next").hard(1e-3, 1e5);
    d.whole("octaves", &Turbulence::octaves, 1, {1, 8}, "Smaller and smaller eddies in them");
    d.whole("seed", &Turbulence::seed, 1, {0, 1000}, "Another seed, other eddies").hard(0, 1e9);
    d.choice("motion", &Turbulence::motion, {{"laps", "Laps: loops exactly"}, {"speed", "Speed"}, {"still", "Still"}},
             "How the eddies change with time");
    d.whole("laps", &Turbulence::laps, 1, {0, 8}, "How often they come back to where they began in one loop")
        .hard(-1000, 1000)
        .only("motion", {"laps"});
    d.whole("changes", &Turbulence::changes, 3, {1, 24}, "How much happens in one lap").hard(1, 100000).only("motion", {"laps"});
    d.number("changing", &Turbulence::changing, 0.5, {0, 4}, "How fast they change")
        .unit("changes/s")
        .hard(-1000, 1000)
        .only("motion", {"speed"});
    d.grips(4);
    ForceKind kind = preparing(makes(d, act), prepare);
    kind.moves = [](const void* data) { return static_cast<const Turbulence*>(data)->motion != NoiseMotion::still; };
    kind.inLaps = changesInOneLap;
    return kind;
}

}  // namespace

const ForceKind turbulenceForce = turbulenceKind();

}  // namespace gswarm
