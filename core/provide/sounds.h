#pragma once
#include <filesystem>
#include <string>

#include "core/scene/scene.h"
#include "core/sound/sound_reading.h"

namespace gswarm {

class Store;

/// A sound of the project; its pieces and what is in it are kept in the store. What it gives lives as long as the store. Throws Error
/// with a sentence where a file is missing or damaged. Safe from any thread.
AskedSound askSound(const Scene& scene, ObjectId sound, double frame, const std::filesystem::path& projectFolder, Store& store);

/// One sentence on what it is; what is wrong with it where it can't be heard.
std::string soundTold(const Scene& scene, ObjectId sound, const std::filesystem::path& projectFolder, Store& store);

}  // namespace gswarm
