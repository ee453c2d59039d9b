#include "companions/decode/sound_reader.h"

#include <sndfile.h>
#include <unistd.h>

extern "C" {
#include <libavutil/channel_layout.h>
#include <libavutil/cpu.h>
#include <libswresample/swresample.h>
}

#include <algorithm>
#include <cmath>
#include <string>

#include "core/base/error.h"

namespace gswarm {
namespace {

/// Samples of the file that are read at once, of each channel.
constexpr std::int64_t atOnce = 1 << 14;

struct ClosesSound {
    void operator()(SNDFILE* file) const { sf_close(file); }
};
struct FreesResampler {
    void operator()(SwrContext* one) const { swr_free(&one); }
};
using Resampler = std::unique_ptr<SwrContext, FreesResampler>;

std::string formatOf(int format) {
    switch (format & SF_FORMAT_TYPEMASK) {
        case SF_FORMAT_WAV:
        case SF_FORMAT_WAVEX:
        case SF_FORMAT_RF64:
            return "WAV";
        case SF_FORMAT_FLAC:
            return "FLAC";
        case SF_FORMAT_OGG:
            return (format & SF_FORMAT_SUBMASK) == SF_FORMAT_OPUS ? "Opus" : "Ogg";
        case SF_FORMAT_AIFF:
            return "AIFF";
        case SF_FORMAT_MPEG:
            return "MP3";
        default:
            return {};
    }
}

}  // namespace

struct SoundReader::State {
    std::function<void()> alive;
    std::unique_ptr<SNDFILE, ClosesSound> file;
    SF_INFO info{};
    SoundFacts facts;
    std::vector<float> raw;

    State(int from, std::function<void()> tell) : alive(std::move(tell)) {
        if (::lseek(from, 0, SEEK_SET) != 0) throw Error("can't be read");
        file.reset(sf_open_fd(from, SFM_READ, &info, SF_FALSE));
        if (!file) throw Error("is damaged, or no sound that can be read; choose another file, or export it anew");
        facts.format = formatOf(info.format);
        if (facts.format.empty()) throw Error("is a kind of sound that can't be read here; convert it to WAV, FLAC, Ogg or MP3");
        if (info.channels < 1 || info.channels > mostSoundChannels)
            throw Error("has " + std::to_string(info.channels) + " channels; at most " + std::to_string(mostSoundChannels) + " are read");
        if (info.samplerate < 1000 || info.samplerate > 768'000)
            throw Error("says that it has " + std::to_string(info.samplerate) + " samples a second; 1 000 to 768 000 are read");
        if (info.frames <= 0) throw Error("has no sound in it; choose another file");
        if (!info.seekable) throw Error("can't be read from its middle; convert it to WAV, FLAC, Ogg or MP3");
        if (double(info.frames) / info.samplerate > longestSoundHours * 3600)
            throw Error("is longer than 6 hours; cut it into shorter sounds");
        // Floating numbers beyond full scale are kept.
        sf_command(file.get(), SFC_SET_CLIPPING, nullptr, SF_FALSE);
        facts.fileRate = info.samplerate, facts.fileChannels = info.channels;
        facts.channels = info.channels == 1 ? 1 : 2;
        facts.length = std::max<std::int64_t>(1, static_cast<std::int64_t>(std::floor(double(info.frames) * soundRate / info.samplerate)));
        raw.resize(static_cast<std::size_t>(atOnce) * static_cast<std::size_t>(info.channels));
    }

    /// Null where the file is as it is heard.
    Resampler resampler() const {
        if (info.samplerate == soundRate && info.channels <= 2) return {};
        // What every processor of this kind has, so that all of them give the same bits.
        av_force_cpu_flags(AV_CPU_FLAG_MMX | AV_CPU_FLAG_MMXEXT | AV_CPU_FLAG_SSE | AV_CPU_FLAG_SSE2);
        AVChannelLayout in{}, out{};
        av_channel_layout_default(&in, info.channels);
        // Layouts beyond the usual ones have no order: their first two channels are heard.
        const bool mixed = info.channels <= 8;
        if (!mixed) av_channel_layout_default(&in, 2);
        av_channel_layout_default(&out, facts.channels);
        SwrContext* made = nullptr;
        const int failed =
            swr_alloc_set_opts2(&made, &out, AV_SAMPLE_FMT_FLT, soundRate, &in, AV_SAMPLE_FMT_FLT, info.samplerate, 0, nullptr);
        Resampler resampler(made);
        if (failed < 0 || swr_init(resampler.get()) < 0) throw Error("can't be brought to the rate that is heard");
        return resampler;
    }

    /// Samples of the file from where it stands, as many as there are, all of them numbers.
    std::int64_t readRaw(std::int64_t most) {
        alive();
        const std::int64_t got = std::max<std::int64_t>(0, sf_readf_float(file.get(), raw.data(), std::min(most, atOnce)));
        const std::size_t channels = static_cast<std::size_t>(info.channels), count = static_cast<std::size_t>(got) * channels;
        for (std::size_t i = 0; i < count; ++i) raw[i] = std::isfinite(raw[i]) ? std::clamp(raw[i], -mostSample, mostSample) : 0;
        if (info.channels > 8)
            for (std::size_t i = 0; i < static_cast<std::size_t>(got); ++i)
                raw[2 * i] = raw[i * channels], raw[2 * i + 1] = raw[i * channels + 1];
        return got;
    }

    void read(std::int64_t piece, std::vector<float>& to) {
        if (piece < 0 || piece >= facts.pieces()) throw Error("has no such piece");
        const auto sides = static_cast<std::size_t>(facts.channels);
        to.assign(static_cast<std::size_t>(facts.lengthOf(piece)) * sides, 0.0f);
        // A piece begins with a whole second, which is a whole sample at any rate.
        const std::int64_t second = piece * (soundPieceLength / soundRate), before = std::min<std::int64_t>(1, second);
        const std::int64_t from = (second - before) * info.samplerate;
        if (sf_seek(file.get(), from, SEEK_SET) < 0) return;
        auto skip = static_cast<std::size_t>(before * soundRate) * sides;
        std::size_t filled = 0;
        const auto take = [&](const float* samples, std::size_t count) {
            const std::size_t left = std::min(skip, count);
            skip -= left;
            const std::size_t many = std::min(count - left, to.size() - filled);
            // A resampler swings beyond what it is given.
            std::transform(samples + left, samples + left + many, to.begin() + static_cast<std::ptrdiff_t>(filled),
                           [](float sample) { return std::clamp(sample, -mostSample, mostSample); });
            filled += many;
        };
        const Resampler change = resampler();
        std::vector<float> changed;
        while (filled < to.size()) {
            const std::int64_t got = readRaw(atOnce);
            if (!change) {
                if (got == 0) return;
                take(raw.data(), static_cast<std::size_t>(got) * sides);
                continue;
            }
            const auto* in = reinterpret_cast<const std::uint8_t*>(raw.data());
            // At its end the resampler gives what it still holds.
            const int room = swr_get_out_samples(change.get(), static_cast<int>(got));
            if (room < 0) return;
            changed.resize(static_cast<std::size_t>(std::max(room, 1)) * sides);
            auto* out = reinterpret_cast<std::uint8_t*>(changed.data());
            const int made = swr_convert(change.get(), &out, std::max(room, 1), got > 0 ? &in : nullptr, static_cast<int>(got));
            if (made < 0 || (made == 0 && got == 0)) return;
            take(changed.data(), static_cast<std::size_t>(made) * sides);
        }
    }
};

SoundReader::SoundReader(int file, std::function<void()> alive) : state_(std::make_unique<State>(file, std::move(alive))) {}
SoundReader::~SoundReader() = default;

const SoundFacts& SoundReader::facts() const { return state_->facts; }
void SoundReader::read(std::int64_t piece, std::vector<float>& to) { state_->read(piece, to); }

}  // namespace gswarm
