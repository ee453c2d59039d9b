#pragma once
#include <glm/mat4x3.hpp>
#include <memory>
#include <span>
#include <vector>

#include "core/shape/ray_tree.h"
#include "core/shape/shape_kind.h"
#include "core/shape/standing_shape.h"

namespace gswarm {

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
    /// A ray; `along` has unit length, or none: such a ray is not shot.
    struct Ray {
        glm::vec3 from{0}, along{0};
    };
    static constexpr int packet = 16;
    /// The nearest that each of up to sixteen rays meets up to `reach`. Quicker where they are near each other.
    void first(const Ray* rays, int count, float reach, Hit* hits) const;
    std::size_t count() const { return standing_.size(); }

  private:
    Hit hitAt(const Ray& ray, float reach, unsigned which, unsigned triangle) const;

    StandingShapes standing_;
    std::vector<glm::dmat4x3> own_;  ///< from the world to each one's own metres
    std::vector<std::shared_ptr<const RayTree>> trees_;
    RayScene scene_;
};

}  // namespace gswarm
