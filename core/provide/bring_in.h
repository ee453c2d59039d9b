#pragma once
#include <filesystem>
#include <optional>
#include <string>

#include "core/provide/file_hash.h"

namespace gswarm {

/// The path of a file in the project's folder, as projects write it; nothing for one that lies outside once all links are
/// followed, or is not there.
std::optional<std::string> pathWithin(const std::filesystem::path& file, const std::filesystem::path& projectFolder);

/// Copies a file into the project's folder, with those that it names beside itself, and returns its path there. One that lies
/// there already, or has the same content as one of its name, is not copied; another content gets a number behind its name. A
/// file that names others gets a folder of its own. Throws Error if it can't be read, or copied whole: nothing is left then.
std::string bringIn(const std::filesystem::path& file, const std::filesystem::path& projectFolder, FileHashes& hashes);
/// The same of a file and all that are numbered like it, in a folder of their own where there are several.
std::string bringInNumbered(const std::filesystem::path& file, const std::filesystem::path& projectFolder, FileHashes& hashes);

}  // namespace gswarm
