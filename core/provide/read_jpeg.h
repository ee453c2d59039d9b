#pragma once
#include <string_view>

#include "core/provide/read_png.h"

namespace gswarm {

/// A JPEG picture: grey, of three colours, or of four inks as they are shown without a profile. Throws Error with a sentence where it is
/// damaged or ends too soon.
Image readJpeg(std::string_view bytes, const CheckPictureSize& check);

}  // namespace gswarm
