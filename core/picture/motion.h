#pragma once
#include <glm/mat4x4.hpp>
#include <glm/vec2.hpp>
#include <vector>

#include "core/base/progress.h"
#include "core/picture/trace_world.h"
#include "core/picture/view.h"

namespace gswarm {

/// How what is seen of a frame goes on to the next one in the picture.
class Motion {
  public:
    /// The lists of both frames, and the cameras with the size of the picture in pixels. 128 bytes a thing. Throws Cancelled.
    Motion(const DrawList& now, const DrawList& next, const Camera& camera, const Camera& nextCamera, int width, int height,
           const Progress& progress);

    /// Pixels to the right and up that what was hit goes from the frame to the next; 0 where it is behind either camera.
    glm::vec2 of(const Hit& hit) const;

  private:
    std::vector<glm::mat4> now_, next_;  ///< by the numbers of things
    glm::mat4 clip_, nextClip_;
    glm::vec2 half_;  ///< of the picture, pixels
};

}  // namespace gswarm
