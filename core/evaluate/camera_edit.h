#pragma once
#include "core/scene/edit.h"
#include "core/scene/object_kinds.h"

namespace gswarm {

/// Puts the scene's first camera there at this frame, keyed numbers by a key; what it hangs from stays, so it stands there
/// in the world. Without a camera there is one afterwards.
Edit putCamera(const Scene& scene, const Camera& camera, double frame);

}  // namespace gswarm
