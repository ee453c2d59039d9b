#include "core/gesture/warp.h"

namespace gswarm {

glm::quat Warp::frame(float toward) const {
    constexpr float half = 0.70710678f;
    const glm::quat along[] = {{half, 0, 0, -half}, {1, 0, 0, 0}, {half, half, 0, 0}};
    return along[static_cast<int>(axis)] * glm::angleAxis(toward, glm::vec3(0, 1, 0));
}

}  // namespace gswarm
