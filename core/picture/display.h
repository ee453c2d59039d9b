#pragma once
#include <glm/vec3.hpp>
#include <span>

#include "core/scene/object_kinds.h"

namespace gswarm {

/// The one display transform of window, PNG and video: exposure, soft highlights if wanted (the Khronos PBR Neutral tone mapper),
/// then the sRGB encoding, cut at 1.
glm::vec3 display(const glm::vec3& linear, float exposure, DisplayTransform transform = DisplayTransform::plain);
/// Of many, each in its place: the same bits, a fifth of the time.
void displayAll(std::span<glm::vec3> linear, float exposure, DisplayTransform transform);

}  // namespace gswarm
