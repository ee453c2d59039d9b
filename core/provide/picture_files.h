#pragma once
#include <filesystem>
#include <memory>

#include "core/light/far_light.h"

namespace gswarm {

class Store;

/// The picture of surroundings, read from the program itself or from the project's folder and kept in the store, by what is in it.
/// Throws Error with a sentence where it can't be read or is no picture of all directions. Safe from any thread; reading takes
/// about 0.1 s for a million pixels.
std::shared_ptr<const Panorama> panoramaOf(const Surroundings& surroundings, const std::filesystem::path& projectFolder, Store& store);

/// A picture of the project's folder, kept in the same way. Throws Error where it can't be read.
std::shared_ptr<const FloatPicture> pictureOf(const std::string& file, const std::filesystem::path& projectFolder, Store& store,
                                              PictureAs as = PictureAs::light);

}  // namespace gswarm
