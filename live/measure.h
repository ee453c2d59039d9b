#pragma once
#include "live/renderer.h"

namespace gswarm::live {

/// What can be drawn while something moves, by how long small pictures of a few boxes take here and now: all that fits into a screen's
/// 60 pictures a second. A software renderer is known by the first: it takes some 0.1 s, most of it for a
/// shader that is needed anyway.
Steps stepsWhileMoving(Renderer& renderer);

}  // namespace gswarm::live
