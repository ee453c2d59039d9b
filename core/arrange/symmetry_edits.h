#pragma once
#include "core/edit/edit.h"
#include "core/symmetry/symmetry_kind.h"

namespace gswarm {

struct Result;

/// A new symmetry as the last of a swarm. `seen` is a result of that swarm, or null: where its instances lie around its own
/// middle, the copies lie around their edge, so that they don't fall on the original.
Edit addSymmetry(const Scene& scene, ObjectId swarm, const SymmetryKind& kind, const Result* seen);

/// The same once more, behind it.
Edit duplicateSymmetry(const Scene& scene, ObjectId symmetry);

}  // namespace gswarm
