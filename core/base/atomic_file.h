#pragma once
#include <filesystem>
#include <string>
#include <string_view>

namespace gswarm {

/// Writes bytes so that the path holds the old content or the new, never a part: to a temporary name beside it,
/// flushed to the disk, then renamed. Throws Error if the system refuses; the old file is then untouched.
void writeFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// The whole file. Throws Error if it can't be read or holds more than `mostBytes`.
std::string readFile(const std::filesystem::path& path, std::uintmax_t mostBytes);

}  // namespace gswarm
