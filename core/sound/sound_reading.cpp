#include "core/sound/sound_reading.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/precise.h"
#include "core/scene/rail_source.h"

namespace gswarm {
namespace {

/// Quieter than anything that is heard: what silence has in decibels.
constexpr double silence = -300;

double decibels(double power) { return power > 1e-30 ? 4.342944819032518 * precise::log(power) : silence; }

int perOctave(BandsPerOctave bands) { return bands == BandsPerOctave::one ? 1 : bands == BandsPerOctave::three ? 3 : 6; }

/// Exact steps of the exponential way toward what is heard.
class Follower {
  public:
    Follower(float attack, float release, double step) : rise_(left(attack, step)), fall_(left(release, step)) {}
    float operator()(float now, float toward) const { return toward + (now - toward) * (toward > now ? rise_ : fall_); }

  private:
    static float left(float seconds, double step) { return seconds > 0 ? static_cast<float>(precise::exp(-step / double(seconds))) : 0; }
    float rise_, fall_;
};

}  // namespace

double bandDecibels(const float* powers, double low, double high, double octaves, double tilt) {
    if (!(high > low)) return silence;
    const double first = 6 * std::log2(low / 40), last = 6 * std::log2(high / 40);
    double power = 0, wide = 0;
    for (int k = std::max(0, static_cast<int>(std::floor(first))); k < std::min(double(sixths), std::ceil(last)); ++k) {
        // Within a sixth the density is the same all over.
        const double from = std::max(low, sixthFrom(k)), to = std::min(high, sixthFrom(k + 1)), own = sixthFrom(k + 1) - sixthFrom(k);
        if (to <= from) continue;
        power += double(powers[k]) * (to - from) / own;
        wide += to - from;
    }
    if (!(wide > 0) || !(power > 0)) return silence;
    const double middle = std::sqrt(low * high);
    const double around = 1000 * (std::exp2(octaves / 2) - std::exp2(-octaves / 2));
    return decibels(power / wide * around) + tilt * std::log2(middle / 1000);
}

std::vector<double> bandEdges(BandsPerOctave bands) {
    const int each = 6 / perOctave(bands);
    std::vector<double> edges;
    for (int k = 0; k < sixths; k += each) edges.push_back(sixthFrom(k));
    edges.push_back(sixthFrom(sixths));
    return edges;
}

HeardValues::HeardValues(const SoundReading& reading, const SoundAnalysis& analysis)
    : moments_(analysis.moments), perSecond_(1 / analysis.step), repeats_(analysis.repeats) {
    const std::vector<double> edges =
        reading.read == SoundRead::bands ? bandEdges(reading.bands) : std::vector<double>{double(reading.low), double(reading.high)};
    columns_ = static_cast<int>(edges.size()) - 1;
    const double fades = double(reading.read == SoundRead::onsets ? reading.decay : reading.release);
    // Eight times as long as it falls to 1/e it is less than a thousandth.
    if (!repeats_) moments_ += std::min<std::int64_t>(1'000'000, static_cast<std::int64_t>(std::ceil(8 * fades * perSecond_)) + 1);
    values_.resize(static_cast<std::size_t>(moments_) * static_cast<std::size_t>(columns_));
    if (reading.read == SoundRead::onsets) {
        // The weakest that counts: all at 100 %, the strongest alone at 0.
        const float least = std::pow(1 - reading.sensitivity / 100, 2.0f);
        std::vector<float> begins(static_cast<std::size_t>(moments_));
        for (const Onset& onset : analysis.onsets) {
            const auto at = static_cast<std::int64_t>(std::llround(onset.seconds * perSecond_));
            if (onset.strength >= least) begins[static_cast<std::size_t>(repeats_ ? at % moments_ : std::min(at, moments_ - 1))] = 1;
        }
        const Follower follow(0, reading.decay, analysis.step);
        float now = 0;
        for (int lap = repeats_ ? 0 : 1; lap < 2; ++lap)
            for (std::size_t m = 0; m < values_.size(); ++m) values_[m] = now = begins[m] > 0 ? 1 : follow(now, 0);
        return;
    }
    const double span = double(reading.ceiling) - double(reading.floor);
    const auto share = [&](double level) {
        if (span == 0) return level >= double(reading.ceiling) ? 1.0f : 0.0f;
        return static_cast<float>(std::clamp((level - double(reading.floor)) / span, 0.0, 1.0));
    };
    const double octaves = reading.read == SoundRead::bands ? 1.0 / perOctave(reading.bands) : std::log2(edges[1] / edges[0]);
    const auto levelAt = [&](std::int64_t moment, int column) {
        if (moment >= analysis.moments) return silence;
        const auto m = static_cast<std::size_t>(moment);
        if (reading.read == SoundRead::level) return decibels(double(analysis.level[m]));
        const auto c = static_cast<std::size_t>(column);
        return bandDecibels(&analysis.bands[m * sixths], edges[c], edges[c + 1], octaves, double(reading.tilt));
    };
    const auto columns = static_cast<std::size_t>(columns_);
    for (std::int64_t m = 0; m < moments_; ++m)
        for (int c = 0; c < columns_; ++c)
            values_[static_cast<std::size_t>(m) * columns + static_cast<std::size_t>(c)] = share(levelAt(m, c));
    const Follower follow(reading.attack, reading.release, analysis.step);
    for (std::size_t c = 0; c < columns; ++c) {
        float now = 0;
        const std::size_t last = static_cast<std::size_t>(moments_) - 1;
        // One lap before, so that the seam is closed.
        if (repeats_)
            for (std::size_t m = 0; m <= last; ++m) now = follow(now, values_[m * columns + c]);
        for (std::size_t m = 0; m <= last; ++m) {
            float& value = values_[m * columns + c];
            value = now = follow(now, value);
        }
    }
}

HeardSound hear(const SoundReading& reading, const RailSource& source) {
    if (!reading.sound) throw Error("Choose the sound.");
    const AskedSound asked = source.sound(reading.sound);
    ContentHash key;
    key.add("heard values");
    key.add(asked.key);
    for (const int choice : {static_cast<int>(reading.read), static_cast<int>(reading.bands)}) key.add(static_cast<std::uint64_t>(choice));
    for (const float number : {reading.low, reading.high, reading.floor, reading.ceiling, reading.tilt, reading.attack, reading.release,
                               reading.decay, reading.sensitivity})
        key.add(double(number));
    return {source.keptAs<HeardValues>(key.value(), [&] { return HeardValues(reading, *asked.analysis(source.progress)); }),
            double(asked.laid.start), source.moment.rate};
}

}  // namespace gswarm
