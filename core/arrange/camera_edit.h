#pragma once
#include "core/edit/edit.h"
#include "core/scene/object_kinds.h"

namespace gswarm {

class Store;

/// Puts the scene's first camera there at this frame, keyed numbers by a key; what it hangs from stays, so it stands there
/// in the world. Without a camera there is one afterwards.
Edit putCamera(const Scene& scene, const Camera& camera, double frame, Store& store);

}  // namespace gswarm
