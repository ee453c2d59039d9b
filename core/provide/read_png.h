#pragma once
#include <functional>
#include <string_view>
#include <variant>

#include "core/base/image.h"

namespace gswarm {

/// Width, height and what each pixel will take, before memory is taken; throws Error where that is too much.
using CheckPictureSize = std::function<void(long width, long height, std::size_t bytesEach)>;

/// A PNG picture of any kind, opaque where it has no alpha: of 8 bits a channel, or of 16 where the file has more. Throws Error with a
/// sentence where it is damaged.
std::variant<Image, Image16> readPng(std::string_view bytes, const CheckPictureSize& check);

}  // namespace gswarm
