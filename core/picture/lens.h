#pragma once
#include <glm/vec3.hpp>
#include <span>
#include <vector>

#include "core/picture/view.h"

namespace gswarm {

/// The camera of a shot at each moment of its shutter, with what rays need of it: a thin lens, a point where everything is sharp, or a
/// sheet of parallel rays.
class Lens {
  public:
    Lens(std::span<const Setting> settings, float aspect);
    struct Ray {
        glm::vec3 from, direction;
        float ends = 1e30f;  ///< metres, where what is behind is cut off
        float begun = 0;     ///< metres before `from` that were cut off
    };
    /// Through a place of the picture, −1 … 1 both ways from its middle, X to the right and Y up, and of the lens, 0 … 1 both ways.
    Ray through(float u, float v, float time, float lensU, float lensV) const;

  private:
    struct Moment {
        glm::vec3 eye, right, up, back;
        float across, upward;   ///< half of what is seen: a metre away, or of a parallel one anywhere
        float radius, sharpAt;  ///< of the lens, 0 where everything is sharp
        float nearCut, farCut;
        bool parallel;
    };
    static Moment momentOf(const Camera& camera, float aspect);
    static Ray ray(const Moment& m, float u, float v, float lensU, float lensV);

    std::vector<Moment> moments_;
};

}  // namespace gswarm
