#pragma once
#include <cstdint>
#include <filesystem>
#include <vector>

namespace gswarm {

/// A picture of 8 bits a channel, R G B A in memory order, rows from the top.
struct Image {
    int width = 0, height = 0;
    std::vector<std::uint8_t> pixels;
};

/// Writes a PNG atomically. Throws Error if the system refuses.
void writePng(const Image& image, const std::filesystem::path& path);

}  // namespace gswarm
