#pragma once
#include <filesystem>
#include <memory>
#include <string>

#include "core/media/media_frame.h"
#include "core/scene/scene.h"

namespace gswarm {

class Store;

/// What media show at a frame of the project. Throws Error with a sentence where a file is missing. Safe from any thread.
AskedMedia askMedia(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder, Store& store);

/// What media show at a frame of the project, kept in the store by what it was made from where that takes long. Throws Error with a
/// sentence where a file is missing or damaged. Safe from any thread.
std::shared_ptr<const MediaFrame> mediaAt(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder,
                                          Store& store);

/// One sentence on what they are; what is wrong with them where they can't be shown.
std::string mediaTold(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder, Store& store);

}  // namespace gswarm
