#include "core/sound/spectrum.h"

#include <kissfft/kiss_fftr.h>

#include <algorithm>
#include <array>
#include <memory>
#include <numbers>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/text.h"

namespace gswarm {
namespace {

constexpr int window = 2048, bins = window / 2;
/// Moments at which onsets are looked for lie ten milliseconds apart.
constexpr int fluxStep = soundRate / 100;

/// Which share of which bins a band has.
struct Share {
    int first, count;
    std::array<float, 256> weight;
};

struct Tables {
    std::array<float, window> hann;
    double power;  ///< what |X|² is times
    std::array<Share, sixths> shares;

    Tables() {
        double square = 0;
        for (int i = 0; i < window; ++i) {
            const double w = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * i / window);
            hann[static_cast<std::size_t>(i)] = static_cast<float>(w);
            square += w * w;
        }
        power = 4 / (window * square);
        constexpr double wide = double(soundRate) / window;
        for (int b = 0; b < sixths; ++b) {
            // A bin reaches half of its width to both sides.
            const double low = sixthFrom(b) / wide + 0.5, high = sixthFrom(b + 1) / wide + 0.5;
            Share& share = shares[static_cast<std::size_t>(b)];
            share.first = static_cast<int>(low);
            share.count = static_cast<int>(std::min(high, double(bins))) - share.first + 1;
            for (int k = 0; k < share.count; ++k) {
                const double bin = share.first + k;
                share.weight[static_cast<std::size_t>(k)] = static_cast<float>(std::max(0.0, std::min(high, bin + 1) - std::max(low, bin)));
            }
        }
    }
};

const Tables& tables() {
    static const Tables made;
    return made;
}

/// The spectrum around a moment; one for each thread.
class Spectrum {
  public:
    Spectrum() : plan_(kiss_fftr_alloc(window, 0, nullptr, nullptr)) {}
    ~Spectrum() { kiss_fftr_free(plan_); }
    Spectrum(const Spectrum&) = delete;
    Spectrum& operator=(const Spectrum&) = delete;

    void take(const float* samples) {
        const Tables& t = tables();
        for (std::size_t i = 0; i < window; ++i) windowed_[i] = samples[i] * t.hann[i];
        kiss_fftr(plan_, windowed_.data(), out_.data());
        const auto scale = static_cast<float>(t.power);
        for (std::size_t k = 0; k < bins; ++k) powers_[k] = scale * (out_[k].r * out_[k].r + out_[k].i * out_[k].i);
        powers_[0] = 0;
    }
    float level() const {
        double sum = 0;
        for (const float p : powers_) sum += double(p);
        return static_cast<float>(sum);
    }
    float band(int b) const {
        const Share& share = tables().shares[static_cast<std::size_t>(b)];
        float sum = 0;
        for (int k = 0; k < share.count; ++k)
            sum += share.weight[static_cast<std::size_t>(k)] * powers_[static_cast<std::size_t>(std::min(share.first + k, bins - 1))];
        return sum;
    }

  private:
    kiss_fftr_cfg plan_;
    std::array<float, window> windowed_{};
    std::array<kiss_fft_cpx, window / 2 + 1> out_{};
    std::array<float, bins> powers_{};
};

/// Moments that lie evenly in a part: where each is, rounded to a sample.
struct Moments {
    std::int64_t count;
    double apart;  ///< samples

    std::int64_t sampleOf(std::int64_t moment) const { return static_cast<std::int64_t>(std::floor(double(moment) * apart + 0.5)); }
    /// The first that is at or behind a sample.
    std::int64_t firstFrom(std::int64_t sample) const {
        auto moment = static_cast<std::int64_t>(double(sample) / apart);
        while (moment > 0 && sampleOf(moment - 1) >= sample) --moment;
        while (moment < count && sampleOf(moment) < sample) ++moment;
        return std::min(moment, count);
    }
};

/// Reads the part once, ten seconds after ten seconds: take(spectrum, from, to, window) for each stretch of samples, where window(sample)
/// are those around one.
template <class Take>
void throughStretches(const Sound& sound, const SoundPart& part, Progress* progress, const Take& take) {
    // The last moment may lie just behind the last sample.
    const std::int64_t stretches = (part.length + 1 + soundPieceLength - 1) / soundPieceLength;
    // Few at once, so that a cancel is heard; the thread that asked listens.
    constexpr std::int64_t together = 8;
    for (std::int64_t begin = 0; begin < stretches; begin += together) {
        if (progress) progress->check(), progress->report(double(begin) / double(stretches));
        forEach(static_cast<std::size_t>(std::min(together, stretches - begin)), [&](std::size_t one) {
            const std::int64_t from = (begin + static_cast<std::int64_t>(one)) * soundPieceLength;
            const std::int64_t to = std::min(part.length + 1, from + soundPieceLength), around = to - from + window;
            std::vector<float> samples(static_cast<std::size_t>(around));
            SoundRun(sound, part).mono(from - window / 2, around, samples.data());
            const auto spectrum = std::make_unique<Spectrum>();
            take(*spectrum, from, to, [&](std::int64_t sample) { return &samples[static_cast<std::size_t>(sample - from)]; });
        });
    }
}

/// Where the energy begins to rise most within the window around a sample, by blocks of a millisecond.
std::int64_t riseNear(SoundRun& run, std::int64_t sample) {
    constexpr int block = soundRate / 1000, reach = window / 2 / block + 4, before = 4;
    std::vector<float> samples(static_cast<std::size_t>(2 * reach * block));
    const std::int64_t from = sample - reach * block;
    run.mono(from, 2 * reach * block, samples.data());
    std::vector<double> energy(static_cast<std::size_t>(2 * reach));
    for (std::size_t b = 0; b < energy.size(); ++b)
        for (std::size_t i = b * block; i < (b + 1) * block; ++i) energy[b] += double(samples[i]) * double(samples[i]);
    std::size_t best = before;
    double most = -1;
    for (std::size_t b = before; b < energy.size(); ++b) {
        double usual = 0;
        for (std::size_t k = b - before; k < b; ++k) usual += energy[k] / before;
        if (energy[b] - usual > most) most = energy[b] - usual, best = b;
    }
    return from + static_cast<std::int64_t>(best) * block;
}

/// From the loudness of every band at every hundredth of a second.
std::vector<Onset> onsetsOf(const Sound& sound, const SoundPart& part, const std::vector<float>& magnitudes) {
    const auto moments = static_cast<std::int64_t>(magnitudes.size()) / sixths;
    std::vector<float> flux(static_cast<std::size_t>(moments));
    for (std::int64_t m = 0; m < moments; ++m)
        for (int b = 0; b < sixths; ++b) {
            const float before = m > 0 ? magnitudes[static_cast<std::size_t>((m - 1) * sixths + b)] : 0;
            flux[static_cast<std::size_t>(m)] += std::max(0.0f, magnitudes[static_cast<std::size_t>(m * sixths + b)] - before);
        }
    // A sound that goes on beneath the beginning of the part begins there too.
    std::vector<Onset> onsets;
    SoundRun run(sound, part);
    constexpr std::int64_t around = 3, usualAround = 12;
    float strongest = 0;
    const float least = 0.02f * *std::max_element(flux.begin(), flux.end());
    // A window over the end hears the sound break off, which is no beginning.
    const std::int64_t last = part.repeats ? moments : std::max<std::int64_t>(1, (part.length - window / 2) / fluxStep);
    for (std::int64_t m = 0; m < last; ++m) {
        const float here = flux[static_cast<std::size_t>(m)];
        bool peak = here > least && here > 1;
        for (std::int64_t k = std::max<std::int64_t>(0, m - around); k <= std::min(moments - 1, m + around) && peak; ++k)
            peak = flux[static_cast<std::size_t>(k)] < here || (flux[static_cast<std::size_t>(k)] == here && k >= m);
        if (!peak) continue;
        double usual = 0;
        std::int64_t many = 0;
        for (std::int64_t k = std::max<std::int64_t>(0, m - usualAround); k <= std::min(moments - 1, m + usualAround); ++k)
            usual += double(flux[static_cast<std::size_t>(k)]), ++many;
        if (double(here) < 1.6 * usual / double(many)) continue;
        const std::int64_t at = std::clamp<std::int64_t>(riseNear(run, m * fluxStep), 0, part.length - 1);
        const double seconds = double(at) / soundRate;
        // One stroke in two windows is one.
        if (!onsets.empty() && seconds - onsets.back().seconds < 0.03) {
            onsets.back().strength = std::max(onsets.back().strength, here);
        } else {
            onsets.push_back({seconds, here});
        }
        strongest = std::max(strongest, onsets.back().strength);
    }
    for (Onset& onset : onsets) onset.strength /= strongest;
    return onsets;
}

}  // namespace

SoundAnalysis analyse(const Sound& sound, const SoundPart& part, double framesPerSecond, Progress* progress) {
    SoundAnalysis analysis;
    const double seconds = double(part.length) / soundRate, frames = seconds * framesPerSecond;
    if (frames > double(mostSoundMoments))
        throw Error("It is " + grouped(frames) + " frames long; more than " + grouped(mostSoundMoments) +
                    " are not analysed: play a shorter part of it.");
    analysis.repeats = part.repeats;
    analysis.moments = part.repeats ? std::max(1, static_cast<int>(std::round(frames))) : static_cast<int>(frames) + 1;
    analysis.step = part.repeats ? seconds / analysis.moments : 1 / framesPerSecond;
    analysis.level.resize(static_cast<std::size_t>(analysis.moments));
    analysis.bands.resize(static_cast<std::size_t>(analysis.moments) * sixths);
    const Moments frameMoments{analysis.moments, analysis.step * soundRate}, fluxMoments{part.length / fluxStep + 1, fluxStep};
    std::vector<float> magnitudes(static_cast<std::size_t>(fluxMoments.count) * sixths);
    throughStretches(sound, part, progress, [&](Spectrum& spectrum, std::int64_t from, std::int64_t to, const auto& window) {
        for (std::int64_t m = frameMoments.firstFrom(from); m < frameMoments.firstFrom(to); ++m) {
            spectrum.take(window(frameMoments.sampleOf(m)));
            analysis.level[static_cast<std::size_t>(m)] = spectrum.level();
            for (int b = 0; b < sixths; ++b) analysis.bands[static_cast<std::size_t>(m * sixths + b)] = spectrum.band(b);
        }
        for (std::int64_t m = fluxMoments.firstFrom(from); m < fluxMoments.firstFrom(to); ++m) {
            spectrum.take(window(fluxMoments.sampleOf(m)));
            // Loudness grows with the logarithm; what is below a thousandth of full scale counts little.
            for (int b = 0; b < sixths; ++b)
                magnitudes[static_cast<std::size_t>(m * sixths + b)] = std::log1p(1000 * std::sqrt(spectrum.band(b)));
        }
    });
    analysis.onsets = onsetsOf(sound, part, magnitudes);
    return analysis;
}

}  // namespace gswarm
