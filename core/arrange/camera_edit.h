#pragma once
#include "core/edit/edit.h"
#include "core/scene/object_kinds.h"

namespace gswarm {

class Store;

/// Another camera, which stands there and is off, so that pictures are made as before; on if it is the only one.
Edit addCamera(const Scene& scene, const Camera& as);
/// Puts a camera to where another view is from at this frame, keyed numbers by a key; what it hangs from stays, so it stands
/// there in the world. What it aims at stays too: only its place and focal length are taken then.
Edit putCamera(const Scene& scene, ObjectId camera, const Camera& as, double frame, Store& store);
/// Pictures are made from this camera from the frame on: keys of all cameras' switches there. At the project's first frame, and
/// where nothing is keyed yet, the switches themselves are turned.
Edit cutTo(const Scene& scene, ObjectId camera, double frame);

}  // namespace gswarm
