#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/scene/object_kinds.h"

/// What is heard, before any kind says where it comes from: numbers of air pressure, ± 1 at full scale, 48 000 a second and one or two
/// beside each other, whatever a file has.
namespace gswarm {

inline constexpr int soundRate = 48'000;
/// Samples of a piece, ten seconds: sounds are read, kept and looked through by pieces.
inline constexpr std::int64_t soundPieceLength = 10 * soundRate;

/// What a file of sound has.
struct SoundFacts {
    std::int64_t length = 0;  ///< samples at soundRate, at least 1
    int channels = 1;         ///< 1 or 2, as it is heard
    int fileRate = 0;         ///< samples a second that the file has
    int fileChannels = 0;
    std::string format;  ///< "WAV", "FLAC", …

    std::int64_t pieces() const { return (length + soundPieceLength - 1) / soundPieceLength; }
    /// Samples of one piece; the last may be shorter.
    std::int64_t lengthOf(std::int64_t piece) const { return std::min(soundPieceLength, length - piece * soundPieceLength); }
    double seconds() const { return static_cast<double>(length) / soundRate; }
};

/// Of sounds that are read.
inline constexpr double longestSoundHours = 6;
inline constexpr int mostSoundChannels = 64;
/// Louder than that no sample is: what is beyond is held there.
inline constexpr float mostSample = 16;

/// One piece: samples of its channels beside each other.
struct SoundPiece {
    int channels = 1;
    std::vector<float> samples;

    std::int64_t length() const { return static_cast<std::int64_t>(samples.size()) / channels; }
    /// Both channels as one.
    float mono(std::int64_t at) const {
        const auto i = static_cast<std::size_t>(at);
        return channels == 1 ? samples[i] : 0.5f * (samples[2 * i] + samples[2 * i + 1]);
    }
    std::size_t bytes() const { return sizeof *this + samples.size() * sizeof(float); }
};

/// A sound that can be asked for: nothing of it is read before.
struct Sound {
    std::uint64_t key = 0;  ///< of all that it is made from
    SoundFacts facts;
    bool endless = false;  ///< goes on beyond its length, over and over
    /// Throws Error with a sentence where a file is damaged. Safe from any thread, as long as the store it came from is there.
    std::function<std::shared_ptr<const SoundPiece>(std::int64_t number)> piece;
};

/// The part of a sound that is played, in samples.
struct SoundPart {
    std::int64_t first = 0, length = 0;
    bool repeats = false;
};
/// Throws Error where nothing is left of it.
SoundPart partOf(const SoundLaid& laid, const Sound& sound);

/// Reads runs of samples out of pieces, silence where the part has none. Keeps the piece read last.
class SoundRun {
  public:
    SoundRun(const Sound& sound, const SoundPart& part) : sound_(sound), part_(part) {}
    /// `count` samples from one of the part on, both channels as one.
    void mono(std::int64_t from, std::int64_t count, float* to);
    /// The same with two channels beside each other, added `gain` times to what is there.
    void addStereo(std::int64_t from, std::int64_t count, float gain, float* to);

  private:
    /// Calls take(piece, first sample in it, how many, how many before) for each stretch that is there.
    template <class Take>
    void each(std::int64_t from, std::int64_t count, const Take& take);

    const Sound& sound_;
    SoundPart part_;
    std::int64_t at_ = -1;
    std::shared_ptr<const SoundPiece> piece_;
};

}  // namespace gswarm
