#pragma once
#include <filesystem>

#include "core/picture/image.h"

namespace gswarm {

/// Writes a PNG atomically. Throws Error if the system refuses.
void writePng(const Image& image, const std::filesystem::path& path);

}  // namespace gswarm
