#pragma once
#include "core/flow/plan.h"
#include "core/scene/rail_source.h"

namespace gswarm {

class Store;

/// One force at the source's frame, on or off. Throws Error where it lacks something, with a sentence that names it.
ForceStep forceAt(const Scene& scene, const Object& force, RailSource& source, Store& store);

/// All forces of the scene that are on. Throws Error as forceAt() does.
std::vector<ForceStep> forcesOf(const Scene& scene, RailSource& source, Store& store);

}  // namespace gswarm
