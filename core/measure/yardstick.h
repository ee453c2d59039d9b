#pragma once
#include "core/scene/scene.h"

namespace gswarm {

/// The yardstick of speed: an analytic grid of a million instances through five gestures: noise offset, random
/// rotation, wave on scale, soft ball zone on scale, colour by height from a ramp.
Scene yardstickScene(int instances);

}  // namespace gswarm
