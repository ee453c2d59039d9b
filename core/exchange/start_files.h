#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/edit/kept_start.h"
#include "core/provide/file_hash.h"

/// Kept starts with the files that their parts read (pictures, meshes, sounds …): copies of these lie beside NAME.gstart in a folder
/// of its own, so that they come along wherever both are taken.
namespace gswarm {

/// That folder of a kept file; it is there only if something lies in it.
std::filesystem::path filesBesideStart(const std::filesystem::path& start);

/// Saves a start with copies of its files, which lie in the folder of its project. Sentences on those that are missing: their names are
/// kept. Throws Error if the start, or a file whole, can't be written.
std::vector<std::string> saveStartWithFiles(KeptStart start, const std::filesystem::path& path, const std::filesystem::path& projectFolder);

/// Loads one, and copies its files into a project's folder (provide/bring_in.h). A file that isn't there is named as it was kept.
/// Throws Error as loadStart() and bringIn() do, and where it names files outside its own folder.
KeptStart loadStartInto(const std::filesystem::path& path, const std::filesystem::path& projectFolder, FileHashes& hashes);

}  // namespace gswarm
