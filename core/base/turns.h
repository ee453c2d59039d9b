#pragma once
#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>

/// Rotations as people type them: three turns about X, then Y, then Z.
namespace gswarm {

/// The rotation of three turns, radians.
glm::quat rotationFromTurns(const glm::vec3& radians);
/// Turns that give the rotation, radians: Y within ± π/2, X and Z within ± π. Where Y is upright X and Z turn about the same
/// line; all of it is told as X.
glm::vec3 turnsFromRotation(const glm::quat& rotation);
/// The same in degrees.
glm::vec3 degreesOf(const glm::quat& rotation);

}  // namespace gswarm
