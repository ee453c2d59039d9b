#pragma once
#include <filesystem>

#include "core/base/content_hash.h"
#include "core/flow/home_plan.h"
#include "core/material/material_kind.h"

namespace gswarm {

class Store;

/// How many pictures a material may have on the instances of one swarm at once, and what a side of the sheet that they lie on may have.
inline constexpr int mostShownMoments = 256;
inline constexpr int longestSheetSide = 2048;

/// What instances show of media at a frame: all moments that they ask for on one sheet, each as large as fits, and the parts by where
/// they stand. `homes` is null for things that are no instances, which show all of it. What it depends on goes into `hash`; where more
/// moments are asked for than may be, neighbours are one and `note` says so. Throws Error where the media can't be shown.
std::shared_ptr<const ShownPictures> shownOnInstances(const ShownAsk& ask, const Scene& scene, double frame,
                                                      const std::filesystem::path& projectFolder, const HomePlan* homes, Store& store,
                                                      ContentHash& hash, std::string& note);

}  // namespace gswarm
