#pragma once
#include "core/base/image.h"
#include "core/material/surface_pictures.h"

/// The pictures of a material as images of 8 bits, for formats of meshes.
namespace gswarm {

/// Encoded in sRGB.
Image colourImage(const FloatPicture& colour);
/// Numbers: the roughness in green, and white in red and blue, where glTF has what hides light and the share of metal.
Image roughnessImage(const FloatPicture& roughness);
/// Encoded in sRGB; times the surface's own colours where they are given, null for none.
Image glowImage(const FloatPicture& glow, const FloatPicture* colour);

}  // namespace gswarm
