#pragma once
#include <array>
#include <vector>

#include "live/live_picture.h"

namespace gswarm::live {

/// Instances of one mesh at one level of detail, ready for the driver.
struct Batch {
    std::vector<float> matrices;  ///< into the world, twelve numbers each, row by row
    std::vector<std::uint32_t> colours;
    std::vector<float> mixes;           ///< share of the second material; empty where all have one
    std::vector<glm::vec4> places;      ///< of their pictures on the sheet; empty where they show none of their own
    std::vector<std::uint32_t> closed;  ///< sides of their boxes, as closed_sides.h has them; empty where none are
    /// None of them is mirrored, cut open or about the eye: of a solid only what faces the eye is seen.
    bool fromOutside = false;
};

/// An instance that is seen through; it is drawn after all that is not.
struct SeeThrough {
    float depth;
    const Surface* surface;
    int level;
    std::uint32_t row, colour;
    float mix;
    glm::vec4 place;
};

/// What differs from one instance of a surface to the next beside where it is.
class Differing {
  public:
    /// `on` is false where the look is not what is seen.
    Differing(const Look& look, const Result& result, bool on);
    struct Of {
        std::uint32_t colour;
        float mix;
        glm::vec4 place;
    };
    /// Of the instance in a row, which has a colour of its own.
    Of of(std::uint32_t row, std::uint32_t colour) const;
    /// Makes room for so many in all.
    void enlarge(Batch& batch, std::size_t count) const;
    /// All but its matrix.
    void put(Batch& batch, std::size_t at, const Of& instance) const;

  private:
    const Result& result_;
    const Mix* mix_;
    const ShownPictures* shown_;
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

/// The opaque instances that may be in the picture, by their level of detail, the nearest first; those that are seen through go to
/// `later`. On all cores.
std::array<Batch, detailLevels> gathered(const Gathering& gathering, const Surface& surface, const Look& look,
                                         std::vector<SeeThrough>& later);

}  // namespace gswarm::live
