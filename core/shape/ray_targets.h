#pragma once
#include <glm/gtc/quaternion.hpp>
#include <memory>
#include <span>
#include <vector>

#include "core/shape/ray_tree.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// A mesh that stands somewhere in the world: its own metres scaled, then rotated, then moved there.
struct StandingShape {
    std::shared_ptr<const ShapeMeshes> meshes;
    glm::vec3 place;
    glm::quat rotation;
    glm::vec3 scale;
};
using StandingShapes = std::vector<StandingShape>;

/// Meshes that rays are shot at. Which triangle is met Embree proposes; where is computed here in double.
class RayTargets {
  public:
    /// `treeOf` gives the tree of a shape's mesh, made once for all that show it.
    RayTargets(StandingShapes standing, const std::function<std::shared_ptr<const RayTree>(const ShapeMeshes&)>& treeOf);

    struct Hit {
        float distance = -1;  ///< metres along the ray; below 0: nothing is met
        int which = -1;       ///< of what stands there
        bool inside = false;  ///< it was met from the inside of the mesh
    };
    /// The nearest that a ray meets up to `reach`; `along` has unit length.
    Hit first(const glm::vec3& from, const glm::vec3& along, float reach) const;
    std::size_t count() const { return standing_.size(); }

  private:
    StandingShapes standing_;
    std::vector<std::shared_ptr<const RayTree>> trees_;
    RayScene scene_;
};

}  // namespace gswarm
