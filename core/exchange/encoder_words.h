#pragma once
#include <cstdint>

#include "core/exchange/video_format.h"

/// What the program that encodes is told, in the machine's own order of bytes: each begins with a byte, and is answered once it is done
/// (core/base/companion.h says how).
/// - `begin`, EncoderWords, then the path of the file and the name that it will have;
/// - `picture` or `finePicture`: the pixels, R G B A in memory order, rows from the top, of 8 or 16 bits each;
/// - `samples`: how many floats (uint32), then these, two beside each other;
/// - `finish`.
namespace gswarm::encoder {

inline constexpr char begin = 'b', picture = 'p', finePicture = 'q', samples = 's', finish = 'f';

struct EncoderWords {
    VideoFormat format;
    std::uint32_t pathLength, nameLength;  ///< bytes
};

}  // namespace gswarm::encoder
