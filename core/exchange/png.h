#pragma once
#include <filesystem>
#include <string>

#include "core/picture/image.h"

namespace gswarm {

/// What is written beside the colours of a PNG file.
struct PngOptions {
    bool alpha = true;  ///< else the picture is taken for opaque
    std::string mark;   ///< in a text chunk; empty for none
};

/// An image as the bytes of a PNG file, sRGB, straight alpha.
std::string pngOf(const Image& image, const PngOptions& options = {});
std::string pngOf(const Image16& image, const PngOptions& options = {});

void writePng(const Image& image, const std::filesystem::path& path, const PngOptions& options = {});
void writePng(const Image16& image, const std::filesystem::path& path, const PngOptions& options = {});

/// The mark of a PNG file that is whole; empty for others, and where it has none.
std::string pngMark(const std::filesystem::path& path);

}  // namespace gswarm
