#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/scene/scene.h"

namespace gswarm {

/// The files that a project reads, by their paths in its folder, each once; those that a glTF names too. Files that are not
/// there are left out.
std::vector<std::string> filesOf(const Scene& scene, const std::filesystem::path& folder);

/// Saves the project at `to` with all files it reads, at the same places beside it. `folder` is where they lie now. Returns
/// one sentence for each file that is missing. Throws Error if something can't be written, if another content lies at one of
/// the places already (nothing is overwritten but the project itself), or Cancelled between files.
std::vector<std::string> copyProject(const Scene& scene, const std::filesystem::path& folder, const std::filesystem::path& to,
                                     Progress& progress);

}  // namespace gswarm
