#pragma once
#include <cstdint>

/// What the program that decodes says, and is asked, over a socket, in the machine's own order of bytes. It is started with the file as
/// descriptor `decoderFile` and the socket as `decoderSocket`, and says first what the file has; then it answers one question after the
/// other. Each answer begins with a byte: any number of `stillAtWork`, then
/// - `refused`: a sentence, its length in bytes before it (uint32);
/// - `answered`: ClipWords and the beginnings of all pictures (double), or the bytes of the picture that was asked for by its number
///   (int64).
namespace gswarm::decoder {

inline constexpr int decoderFile = 3, decoderSocket = 4;
inline constexpr char stillAtWork = '.', refused = 'r', answered = 'a';
inline constexpr std::uint32_t longestSentence = 2000;

struct ClipWords {
    std::int32_t width, height, deep, sound;
    std::int64_t pictures;
    double seconds;
    char codec[32];
};

}  // namespace gswarm::decoder
