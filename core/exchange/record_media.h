#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/scene/frame_range.h"

namespace gswarm {

class Store;

/// Makes a clip of what media show at the frames of a range, at the project's rate: a file whose ending is .mp4 gets H.264 of the best
/// quality, .mov ProRes 4444 with alpha. Light beyond white is held there. There whole or not at all. Throws Error where the media
/// can't be shown, are too small for the codec, or can't be written; Cancelled.
void recordMedia(const Scene& scene, ObjectId media, const FrameRange& range, const std::filesystem::path& projectFolder, Store& store,
                 const std::filesystem::path& path, Progress& progress);

/// A path in a folder that is free, for a recording of something of some name.
std::filesystem::path freeRecording(const std::filesystem::path& folder, const std::string& name, const std::string& ending = ".mp4");

}  // namespace gswarm
