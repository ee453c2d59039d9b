#pragma once
#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

namespace gswarm {

/// What a clip has.
struct ClipFacts {
    int width = 0, height = 0;  ///< pixels as they are seen, upright and square
    bool deep = false;          ///< 16 bits a number in place of 8
    bool sound = false;
    std::vector<double> begins;  ///< seconds at which each picture begins, rising; the first at 0. At least one
    double seconds = 0;          ///< at which the last one ends
    std::string codec;

    std::size_t pictureBytes() const {
        return std::size_t{4} * (deep ? 2 : 1) * static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    }
};

/// One picture of a clip: red, green, blue, alpha of rows from the top, as the clip has them encoded.
struct ClipPicture {
    std::vector<std::uint8_t> bytes;
};

/// Of clips that are read.
inline constexpr int longestClipSide = 16384;
inline constexpr long mostClipPixels = 64'000'000;
inline constexpr std::size_t mostClipPictures = 2'000'000;

}  // namespace gswarm
