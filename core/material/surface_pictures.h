#pragma once
#include <glm/vec2.hpp>
#include <memory>

#include "core/base/float_picture.h"
#include "core/material/shown_pictures.h"

namespace gswarm {

/// Pictures that a material has all over its surface, by UV; null where there is none. They repeat in both directions, and v grows
/// toward their upper edge.
struct SurfacePictures {
    std::shared_ptr<const FloatPicture> colour;     ///< times the colour
    std::shared_ptr<const FloatPicture> roughness;  ///< of numbers, times the roughness
    std::shared_ptr<const FloatPicture> glow;       ///< times the light it gives
    std::shared_ptr<const FloatPicture> bump;       ///< of numbers, the height
    float bumpHeight = 0;                           ///< metres from black to white, in the size of the shape
    float repeats = 1;                              ///< times in each direction
    std::shared_ptr<const ShownPictures> shown;     ///< of each instance its own, times the colour
    ShownWhich which;                               ///< the one of those, where all show the same

    bool operator==(const SurfacePictures&) const = default;
    /// Whether any is on all of its surfaces.
    bool all() const { return colour || roughness || glow || bump; }
};

/// Linear light at a place, evenly between the middles of pixels.
glm::vec3 lightAt(const FloatPicture& picture, const glm::vec2& uv);
/// The same of a picture of numbers, whose colours count as far as they are bright.
float numberAt(const FloatPicture& picture, const glm::vec2& uv);
/// How that grows along u and v, over a pixel's distance.
glm::vec2 slopeAt(const FloatPicture& picture, const glm::vec2& uv);

}  // namespace gswarm
