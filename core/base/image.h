#pragma once
#include <cstdint>
#include <vector>

namespace gswarm {

/// A picture of 8 bits a channel, R G B A in memory order, rows from the top.
struct Image {
    int width = 0, height = 0;
    std::vector<std::uint8_t> pixels;
};

/// The same of 16 bits a channel.
struct Image16 {
    int width = 0, height = 0;
    std::vector<std::uint16_t> pixels;
};

}  // namespace gswarm
