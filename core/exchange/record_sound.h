#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/scene/frame_range.h"

namespace gswarm {

class Store;

/// Makes a file of what a sound gives over the frames of a range, as it lies in time and as loud as it is in itself: FLAC of 24 bits where
/// the ending is .flac, WAV of floating numbers where it is .wav. There whole or not at all. Throws Error where the sound can't be heard
/// or the file can't be written; Cancelled.
void recordSound(const Scene& scene, ObjectId sound, const FrameRange& range, const std::filesystem::path& projectFolder, Store& store,
                 const std::filesystem::path& path, Progress& progress);

}  // namespace gswarm
