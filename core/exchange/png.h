#pragma once
#include <filesystem>
#include <string>

#include "core/picture/image.h"

namespace gswarm {

/// The bytes of a PNG file.
std::string pngOf(const Image& image);
/// Writes a PNG atomically. Throws Error if the system refuses.
void writePng(const Image& image, const std::filesystem::path& path);

}  // namespace gswarm
