#pragma once
#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/float_picture.h"

namespace gswarm {

/// What a picture file and its pixels may take.
inline constexpr std::size_t largestPictureFile = std::size_t{1} << 30;
inline constexpr long mostPicturePixels = 100'000'000;
inline constexpr int longestPictureSide = 32768;
inline constexpr float mostPictureLight = 1e10f;  ///< brighter than any sun; what is beyond is held there, so that sums stay numbers

/// How files of pictures that are read end, in small letters.
const std::vector<std::string>& pictureEndings();

/// Reads an OpenEXR, Radiance HDR, PNG or JPEG picture, whichever the bytes are; of several in a file the first, with its alpha. What
/// is no number becomes 0, what is brighter than mostPictureLight that. Sizes are checked before memory is taken; `mostBytes` is what its
/// pixels may take. Throws Error with a sentence for what is damaged, too large or no such picture.
StoredPicture readStoredPicture(std::string_view bytes, PictureAs as = PictureAs::light, std::size_t mostBytes = SIZE_MAX);
/// The same, of 8 bits a channel too as floats.
FloatPicture readPicture(std::string_view bytes, PictureAs as = PictureAs::light);
/// The same of a file; the sentence has its name.
StoredPicture readStoredPictureFile(const std::filesystem::path& file, PictureAs as = PictureAs::light, std::size_t mostBytes = SIZE_MAX);
FloatPicture readPictureFile(const std::filesystem::path& file, PictureAs as = PictureAs::light);

}  // namespace gswarm
