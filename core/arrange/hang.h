#pragma once
#include "core/edit/edit.h"

namespace gswarm {

class Store;

/// Hangs an object from another, lets it follow a curve (a shape), or stands it on its own again (the empty id). It keeps its
/// place in the world at the frame, and at every key of its place and turn; one that follows a curve begins on it.
/// Throws Error with the chain where it would hang from itself, and for a curve that is read from a file: where things stand
/// is told by the scene alone.
Edit hang(const Scene& scene, ObjectId object, ObjectId to, double frame, Store& store);

}  // namespace gswarm
