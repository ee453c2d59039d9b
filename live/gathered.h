#pragma once
#include <array>
#include <vector>

#include "live/live_picture.h"

namespace gswarm::live {

/// Instances of one mesh at one level of detail, ready for the driver.
struct Batch {
    std::vector<float> matrices;
    std::vector<std::uint32_t> colours;
    std::vector<float> mixes;  ///< share of the second material; empty where all have one
};

/// An instance that is seen through; it is drawn after all that is not.
struct SeeThrough {
    float depth;
    const Surface* surface;
    int level;
    std::uint32_t row, colour;
    float mix;
};

/// What a surface is drawn for: the picture, and what of it is where.
struct Gathering {
    const LivePicture& picture;
    glm::mat4 toClip;        ///< world → clip
    float pixelsAtOneMetre;  ///< what a metre is wide, a metre away; of a parallel camera anywhere
    bool parallel;
    bool ghost;
};

/// Finer meshes for what is larger on screen. `radius` is in pixels.
int levelFor(float radius, bool fine);

/// The opaque instances that may be in the picture, by their level of detail; those that are seen through go to `later`. On all cores,
/// in number order.
std::array<Batch, detailLevels> gathered(const Gathering& gathering, const Surface& surface, const Look& look,
                                         std::vector<SeeThrough>& later);

}  // namespace gswarm::live
