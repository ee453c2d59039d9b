#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/sound/sound.h"

namespace gswarm {

/// Bands a sixth of an octave wide, from 40 Hz to just above 16 kHz.
inline constexpr int sixths = 52;
/// Where one begins, hertz; `sixths` where the last one ends.
inline double sixthFrom(double sixth) { return 40 * std::exp2(sixth / 6); }

/// A beginning in a sound: a stroke, a note, a word.
struct Onset {
    double seconds;  ///< of the part
    float strength;  ///< 1 for the strongest of the sound
};

/// What is in a part of a sound, at moments a frame apart: of the file, the part and the frame rate alone, never of what was played.
/// Powers are relative to a sine of full scale, which has 1. Windows of 2 048 samples after Hann around each moment; P = 4 |X|² /
/// (N Σ w²) of each bin, so that the bins of a sine sum to its power (Harris, "On the use of windows for harmonic analysis with the
/// discrete Fourier transform", 1978). Onsets are peaks of the spectral flux of log magnitudes (Dixon, "Onset detection revisited",
/// 2006), each moved to where the energy begins to rise, to a millisecond.
struct SoundAnalysis {
    double step = 0;           ///< seconds between moments; a repeating part has whole ones
    int moments = 0;           ///< the first at the part's beginning
    bool repeats = false;      ///< after the last moment comes the first
    std::vector<float> level;  ///< of the whole spectrum at each moment
    std::vector<float> bands;  ///< `sixths` of each moment
    std::vector<Onset> onsets;

    std::size_t bytes() const { return sizeof *this + (level.size() + bands.size()) * sizeof(float) + onsets.size() * sizeof(Onset); }
};

/// More moments than this are not analysed.
inline constexpr std::int64_t mostSoundMoments = 4'000'000;

/// Throws Error where it has too many moments or can't be read. A minute takes about 0.1 s.
SoundAnalysis analyse(const Sound& sound, const SoundPart& part, double framesPerSecond, Progress* progress = nullptr);

}  // namespace gswarm
