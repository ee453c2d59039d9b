#pragma once
#include <filesystem>
#include <string>
#include <vector>

namespace gswarm {

/// A file of a row of numbered ones.
struct NumberedFile {
    long long number;
    std::filesystem::path path;
};

/// All files of a folder that are called like one of them but for the number before the ending ("wave.0012.png"), by their numbers. One
/// without a number, or with one of more than twelve digits, is the only one: there is always one. The folder is read again only when the
/// system says that it was changed. Throws Error if it can't be read or holds more than a hundred thousand of them. Safe from any thread.
std::vector<NumberedFile> numberedLike(const std::filesystem::path& file);

}  // namespace gswarm
