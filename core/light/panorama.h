#pragma once
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <vector>

#include "core/base/float_picture.h"

namespace gswarm {

/// A picture of all directions, equirectangular: columns go once around, to the right from behind (+Z) over −X ahead … the middle is
/// ahead (−Z), rows go from straight up to straight down. Bright places can be picked by how much light comes from them.
class Panorama {
  public:
    /// Light below 0 counts as none. Larger pictures are made smaller, to at most `mostWidth` pixels. The cost
    /// grows with the pixels. Throws Error for one that is not about twice as wide as high.
    explicit Panorama(FloatPicture picture);
    static constexpr int mostWidth = 4096;

    int width() const { return width_; }
    int height() const { return height_; }
    const std::vector<glm::vec3>& light() const { return light_; }
    /// Over all directions.
    const glm::vec3& mean() const { return mean_; }

    /// Linear light from a direction, unit; evenly between the middles of pixels.
    glm::vec3 from(const glm::vec3& direction) const;
    /// A place of the picture, 0 … 1 to the right and down, picked about as often as light comes from there; u, v in 0 … 1.
    glm::vec2 pick(float u, float v) const;
    /// What there is at a place.
    struct Seen {
        glm::vec3 light;
        float density;  ///< with which pick() comes there, by the area of the picture, all of which is 1; above 0 wherever there is light
    };
    Seen at(const glm::vec2& place) const;
    /// Makes a density by area one by solid angle, for the sine of the angle from straight up.
    static float bySolidAngle(float density, float sine);

  private:
    /// One step over the edge is the other side.
    glm::vec3 pixel(int x, int y) const;

    int width_, height_;
    std::vector<glm::vec3> light_;
    glm::vec3 mean_{0};
    std::vector<float> rows_;     ///< share of all light down to the end of each row
    std::vector<float> columns_;  ///< of each row, up to the end of each pixel
};

/// Where a direction, unit, lies on a panorama: 0 … 1 to the right and down.
glm::vec2 onPanorama(const glm::vec3& direction);
/// The direction there, unit.
glm::vec3 fromPanorama(const glm::vec2& place);

}  // namespace gswarm
