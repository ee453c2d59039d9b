#pragma once
#include <filesystem>

#include "core/picture/after.h"
#include "core/picture/film.h"

namespace gswarm {

/// Writes what a traced picture was made of as one OpenEXR file of linear light, before all that comes after, losslessly compressed:
/// R G B A, premultiplied; albedo.R G B, what of white light comes back; normal.X Y Z, in the world; depth.Z, metres from the lens,
/// farthestDepth where nothing is; id, a whole number for each instance, 0 where nothing is. Half floats, but for depth and id.
/// `picture` is the film's, filtered or not. Atomic; throws Error if the system refuses.
void writeLayers(const LinearPicture& picture, const Film& film, const std::filesystem::path& path);
inline constexpr float farthestDepth = 1e10f;

}  // namespace gswarm
