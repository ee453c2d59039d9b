#pragma once
#include <filesystem>
#include <string>

#include "core/base/image.h"

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

/// Any PNG file of at most 16384 pixels a side, opaque where it has no alpha; 8 bits count from 0 to 65535 like 16. Throws Error.
Image16 readPng(const std::filesystem::path& path);

/// The mark of a PNG file that is whole; empty for others, and where it has none.
std::string pngMark(const std::filesystem::path& path);

}  // namespace gswarm
