#pragma once
#include <functional>

#include "core/exchange/exporter_kind.h"

namespace gswarm::live {

/// Draws pictures as the live view does at rest, four samples a pixel, without a display. The context is made with the first picture;
/// all are to be asked for on one thread, where the last copy is let go of too. Throws Error where there is no OpenGL.
LiveStill liveStill();

}  // namespace gswarm::live
