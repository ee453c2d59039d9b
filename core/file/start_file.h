#pragma once
#include <filesystem>

#include "core/edit/kept_start.h"

namespace gswarm {

/// Kept starts lie in files of their own, projects that say besides what was kept: NAME.gstart. They are shared by copying them.
inline constexpr const char* startEnding = ".gstart";

/// Throws Error as saveProject() does.
void saveStart(const KeptStart& start, const std::filesystem::path& path);
/// Throws Error as loadProject() does, or if the file keeps no start.
KeptStart loadStart(const std::filesystem::path& path);

}  // namespace gswarm
