#pragma once
#include <cstdint>
#include <vector>

#include "core/base/float_picture.h"

namespace gswarm {

/// What each whole number that a picture's colours may have stands for: of 8 bits 256 floats, of 16 bits 65 536. Made on first use.
template <class Number>
const std::vector<float>& meanings(PictureAs colours);

extern template const std::vector<float>& meanings<std::uint8_t>(PictureAs);
extern template const std::vector<float>& meanings<std::uint16_t>(PictureAs);

}  // namespace gswarm
