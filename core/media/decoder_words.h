#pragma once
#include <cstdint>

/// What the program that decodes says, and is asked, in the machine's own order of bytes (core/base/companion.h says how answers begin).
/// It is started as `gswarm-decode clip|sound BYTES` with the file as its own, and says first what the file has: of a clip ClipWords and
/// the beginnings of all pictures (double), of a sound SoundWords. Then it answers one question after the other, each the number of a
/// picture or piece (int64): with the bytes of the picture, or the samples (float) of the piece.
namespace gswarm::decoder {

inline constexpr const char *clipWord = "clip", *soundWord = "sound";

struct ClipWords {
    std::int32_t width, height, deep, sound;
    std::int64_t pictures;
    double seconds;
    char codec[32];
};

struct SoundWords {
    std::int64_t length;
    std::int32_t channels, fileRate, fileChannels;
    char format[12];
};

}  // namespace gswarm::decoder
