#pragma once
#include <filesystem>
#include <optional>
#include <vector>

#include "core/edit/kept_start.h"

namespace gswarm {

/// Kept starts lie in files of their own, projects that say besides what was kept: NAME.gstart. They are shared by copying them.
inline constexpr const char* startEnding = ".gstart";

/// Throws Error as saveProject() does.
void saveStart(const KeptStart& start, const std::filesystem::path& path);
/// Throws Error as loadProject() does, or if the file keeps no start.
KeptStart loadStart(const std::filesystem::path& path);

/// A file of the folder: what it keeps, or why it can't be used.
struct FoundStart {
    std::filesystem::path path;
    std::optional<KeptStart> start;
    std::string trouble;
};
/// All start files of a folder, by name; none if there is no such folder.
std::vector<FoundStart> startsIn(const std::filesystem::path& folder);

}  // namespace gswarm
