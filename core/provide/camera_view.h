#pragma once
#include <glm/mat4x4.hpp>

#include "core/scene/object_kinds.h"
#include "core/scene/scene.h"

/// What cameras see, as every picture, view and picture pattern has it.
namespace gswarm {

/// The camera that pictures are made from: the first that is on at the frame, else the first; the empty id without cameras.
ObjectId cameraOn(const Scene& scene, double frame);

/// Width by height of the pictures that are made.
double pictureAspect(const Scene& scene);

/// Radians. The focal length counts on a frame 36 mm wide, whatever its height.
float verticalFieldOfView(const Camera& camera, float aspect);
glm::mat4 viewMatrix(const Camera& camera);
/// From the world to clip space, as OpenGL has it; cut near and far where the camera cuts, else well before and behind what it looks at.
glm::mat4 clipMatrix(const Camera& camera, float aspect);

}  // namespace gswarm
