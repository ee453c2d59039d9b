// A microphone that is not there: a harbour at night. A slow swell, a bell on a buoy that strikes with it, and drops that fall into
// water. No device is ever opened.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/chance.h"
#include "core/base/content_hash.h"
#include "core/base/precise.h"
#include "core/sound/sound_kind.h"

namespace gswarm {
namespace {

struct SimulatedMicrophone {
    int seed;
    float bell, drops;  ///< a minute
    float lap;          ///< seconds after which it begins again
};

/// Something that is struck at a second and rings.
struct Struck {
    double seconds, hertz, fades, loud;
};

/// What happens within a lap, in the order of time.
std::vector<Struck> struckIn(const SimulatedMicrophone& of) {
    const auto seed = static_cast<std::uint32_t>(of.seed);
    std::vector<Struck> all;
    const auto scatter = [&](float perMinute, std::uint64_t salt, const auto& each) {
        const int count = static_cast<int>(std::lround(double(perMinute) * double(of.lap) / 60));
        for (int k = 0; k < count; ++k) {
            const auto number = static_cast<std::uint64_t>(k);
            // One in each share of the lap, somewhere within it.
            each((k + 0.8 * chance(seed, number, salt)) * double(of.lap) / count, number, salt);
        }
    };
    scatter(of.bell, 101, [&](double at, std::uint64_t k, std::uint64_t salt) {
        const double loud = 0.22 + 0.12 * chance(seed, k, salt + 1);
        // The partials of a small bell.
        constexpr std::array<double, 4> partials = {1, 2.0, 2.76, 5.4};
        for (std::size_t p = 0; p < partials.size(); ++p) all.push_back({at, 392 * partials[p], 1.3 / double(p + 1), loud / double(p + 1)});
    });
    scatter(of.drops, 111, [&](double at, std::uint64_t k, std::uint64_t salt) {
        all.push_back({at, 900 * std::exp2(1.6 * chance(seed, k, salt + 1)), 0.05, 0.1 + 0.15 * chance(seed, k, salt + 2)});
    });
    return all;
}

SoundPiece pieceOf(const SimulatedMicrophone& of, const SoundFacts& facts, std::int64_t number) {
    const std::int64_t first = number * soundPieceLength, count = facts.lengthOf(number);
    SoundPiece piece{1, std::vector<float>(static_cast<std::size_t>(count))};
    const double lap = double(facts.length) / soundRate;
    // The swell: noise through two lags, louder and softer in whole laps.
    const double swells = std::max(1.0, std::round(lap / 7));
    const auto seed = static_cast<std::uint32_t>(of.seed);
    constexpr std::int64_t before = 4096;
    double slow = 0, slower = 0;
    for (std::int64_t i = -before; i < count; ++i) {
        const std::int64_t at = ((first + i) % facts.length + facts.length) % facts.length;
        slow += 0.03 * (2 * double(chance(seed, static_cast<std::uint64_t>(at), 120)) - 1 - slow);
        slower += 0.02 * (slow - slower);
        if (i < 0) continue;
        const double turn = swells * double(at) / double(facts.length);
        const double rise = 0.55 + 0.45 * precise::sineCosineOfTurns(turn - std::floor(turn)).sine;
        piece.samples[static_cast<std::size_t>(i)] = static_cast<float>(0.9 * rise * slower + 0.02 * rise * slow);
    }
    for (const Struck& one : struckIn(of)) {
        // As long as it is louder than a ten-thousandth; what rings over the end is heard at the beginning.
        const auto rings = static_cast<std::int64_t>(9 * one.fades * soundRate);
        for (std::int64_t lapsBefore = 0; lapsBefore < 2; ++lapsBefore) {
            const auto begins = static_cast<std::int64_t>(std::llround(one.seconds * soundRate)) - lapsBefore * facts.length - first;
            const std::int64_t from = std::max<std::int64_t>(0, begins), to = std::min({count, begins + rings, begins + facts.length});
            if (from >= to) continue;
            // A turning arrow that shrinks: e^(−t/fades) and the sine in one multiplication.
            const auto into = double(from - begins) / soundRate;
            const double turns = one.hertz * into;
            const auto now = precise::sineCosineOfTurns(turns - std::floor(turns)),
                       step = precise::sineCosineOfTurns(one.hertz / soundRate);
            const double size = one.loud * std::exp(-into / one.fades), shrinks = std::exp(-1 / (one.fades * soundRate));
            double sine = size * now.sine, cosine = size * now.cosine;
            for (std::int64_t i = from; i < to; ++i) {
                piece.samples[static_cast<std::size_t>(i)] += static_cast<float>(sine);
                const double turned = shrinks * (sine * step.cosine + cosine * step.sine);
                cosine = shrinks * (cosine * step.cosine - sine * step.sine);
                sine = turned;
            }
        }
    }
    return piece;
}

Sound sound(const SimulatedMicrophone& of, const SoundSource&) {
    SoundFacts facts;
    facts.length = std::max<std::int64_t>(soundRate, std::llround(double(of.lap) * soundRate));
    facts.fileRate = soundRate, facts.fileChannels = 1;
    ContentHash key;
    key.add("simulated microphone");
    key.add(static_cast<std::uint64_t>(of.seed));
    for (const float number : {of.bell, of.drops, of.lap}) key.add(double(number));
    return {key.value(), facts, true,
            [of, facts](std::int64_t number) { return std::make_shared<const SoundPiece>(pieceOf(of, facts, number)); }};
}

/// Its lap goes into the loop a whole number of times.
std::optional<LapSettings> inLaps(const Part&, const NumberNow& now, double seconds) {
    const double lap = now("lap", 0), count = std::max(1.0, std::round(seconds / lap));
    if (std::abs(seconds / count - lap) < 1e-4 || seconds / count < 1 || seconds / count > 600) return std::nullopt;
    return LapSettings{{{"lap", fixedNumbers({seconds / count})}}, lapsInWords(count)};
}

std::string told(const SimulatedMicrophone&, const SoundSource&) {
    return "Simulated: a made-up harbour at night. No microphone is opened.";
}

SoundKind microphoneKind() {
    SoundKind kind =
        sounds(DescribeSound<SimulatedMicrophone>("simulatedMicrophone", "Simulated microphone",
                                                  "A made-up harbour at night: swell, a bell on a buoy, drops. No device is opened")
                   .found("mic live audio input recording bell")
                   .whole("seed", &SimulatedMicrophone::seed, 1, {0, 1000}, "Another seed, another night")
                   .hard(0, 1e9)
                   .number("bell", &SimulatedMicrophone::bell, 24, {0, 120}, "Strokes of the bell a minute")
                   .hard(0, 600)
                   .still()
                   .number("drops", &SimulatedMicrophone::drops, 60, {0, 300}, "Drops a minute")
                   .hard(0, 1200)
                   .still()
                   .number("lap", &SimulatedMicrophone::lap, 60, {5, 120}, "Seconds after which it begins again")
                   .unit("s")
                   .hard(1, 600)
                   .still(),
               sound, told);
    kind.inLaps = inLaps;
    return kind;
}

}  // namespace

const SoundKind simulatedMicrophoneSound = microphoneKind();

}  // namespace gswarm
