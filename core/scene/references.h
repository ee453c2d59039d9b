#pragma once
#include <string>

#include "core/scene/scene.h"

namespace gswarm {

/// Everything an object refers to or owns, in the order of its tables; what is not there is left out.
std::vector<ObjectId> usedBy(const Scene& scene, ObjectId id);

/// The names along a way that comes back to where it began, "A → B → A", starting anywhere or from one object; empty if
/// there is none. What depends on itself can't be computed.
std::string circleIn(const Scene& scene);
std::string circleFrom(const Scene& scene, ObjectId start);

}  // namespace gswarm
