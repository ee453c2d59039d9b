#pragma once
#include <cstdint>

/// What the program that decodes says, and is asked, over a socket, in the machine's own order of bytes. It is started as
/// `gswarm-decode clip|sound BYTES` with the file as descriptor `decoderFile` and the socket as `decoderSocket`, and says first what the
/// file has; then it answers one question after the other, each the number of a picture or piece (int64). Each answer begins with a byte:
/// any number of `stillAtWork`, then
/// - `refused`: a sentence, its length in bytes before it (uint32);
/// - `answered`: of a clip ClipWords and the beginnings of all pictures (double), then the bytes of each picture that is asked for; of a
///   sound SoundWords, then the samples (float) of each piece.
namespace gswarm::decoder {

inline constexpr int decoderFile = 3, decoderSocket = 4;
inline constexpr const char *clipWord = "clip", *soundWord = "sound";
inline constexpr char stillAtWork = '.', refused = 'r', answered = 'a';
inline constexpr std::uint32_t longestSentence = 2000;

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
