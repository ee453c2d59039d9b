#include "core/base/turns.h"

#include <algorithm>
#include <cmath>

namespace gswarm {

glm::quat rotationFromTurns(const glm::vec3& radians) {
    return glm::angleAxis(radians.z, glm::vec3(0, 0, 1)) * glm::angleAxis(radians.y, glm::vec3(0, 1, 0)) *
           glm::angleAxis(radians.x, glm::vec3(1, 0, 0));
}

glm::vec3 turnsFromRotation(const glm::quat& rotation) {
    const glm::dquat q = glm::normalize(glm::dquat(rotation));
    const double sine = std::clamp(2 * (q.w * q.y - q.z * q.x), -1.0, 1.0);
    // Nearer to upright than this a float's rotation says nothing of Z any more.
    if (std::abs(sine) > 1 - 1e-7) return {2 * std::atan2(q.x, q.w), std::copysign(1.5707963267948966, sine), 0};
    return {std::atan2(2 * (q.w * q.x + q.y * q.z), 1 - 2 * (q.x * q.x + q.y * q.y)), std::asin(sine),
            std::atan2(2 * (q.w * q.z + q.x * q.y), 1 - 2 * (q.y * q.y + q.z * q.z))};
}

glm::vec3 degreesOf(const glm::quat& rotation) { return turnsFromRotation(rotation) * 57.29577951308232f; }

}  // namespace gswarm
