#pragma once
#include "core/base/image.h"
#include "core/material/surface_pictures.h"
#include "core/shape/mesh.h"

/// The pictures of a material as images of 8 bits, for formats of meshes.
namespace gswarm {

/// Encoded in sRGB.
Image colourImage(const FloatPicture& colour);
/// Numbers: the roughness in green, and white in red and blue, where glTF has what hides light and the share of metal.
Image roughnessImage(const FloatPicture& roughness);
/// Encoded in sRGB; times the surface's own colours where they are given, null for none.
Image glowImage(const FloatPicture& glow, const FloatPicture* colour);

/// How far a step of 1 in U, and in V, goes over a mesh: metres, the mean by area. 0 where its UV stand still.
glm::vec2 metresPerUv(const Mesh& mesh);
/// How much the height of a look's bumps grows for a metre along U and V of a mesh, times that of their picture for its whole width; 0
/// where there are none.
glm::vec2 bumpSlope(const SurfacePictures& pictures, const glm::vec2& metresPerUv);
/// Normals of bumps by the surface's own axes: right along U, green along V, both 0 at a half. What they lean is divided by `scale`.
struct NormalImage {
    Image image;
    float scale = 1;
};
/// Of the slope above; the scale is the steepest there is, at most 1, so that gentle bumps keep their digits.
NormalImage normalImage(const FloatPicture& bump, const glm::vec2& slope);
/// The same for a scale of 1.
Image plainNormalImage(const FloatPicture& bump, const glm::vec2& slope);

}  // namespace gswarm
