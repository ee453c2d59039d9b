#pragma once
#include <vector>

#include "core/scene/scene.h"

namespace gswarm {

/// One row of the scene list with what stands under it.
struct OutlineRow {
    ObjectId id;
    bool shared = false;  ///< stands in other places of the list too
    std::vector<OutlineRow> under;
    bool operator==(const OutlineRow&) const = default;
};

/// The scene as people look for things in it: a swarm holds the shapes of its stock, its formations with the shapes they stand on, and its
/// gestures with their zones; after the swarms comes what is not a swarm's own, by type, and the groups hold what was put into
/// them. What several use is shown under each of them. The project's own settings stand last.
std::vector<OutlineRow> outlineOf(const Scene& scene);

}  // namespace gswarm
