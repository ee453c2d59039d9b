#pragma once
#include <embree3/rtcore.h>

#include <memory>

#include "core/shape/mesh.h"

namespace gswarm {

/// One of Embree's scenes, let go of with its owner.
struct ReleaseRayScene {
    void operator()(RTCSceneTy* scene) const { rtcReleaseScene(scene); }
};
using RayScene = std::unique_ptr<RTCSceneTy, ReleaseRayScene>;

/// Embree's tree of a mesh: which of its triangles a ray may meet first.
class RayTree {
  public:
    /// A watertight tree lets no ray through exactly between two triangles, and is a little slower.
    explicit RayTree(const Mesh& mesh, bool watertight = false);

    RTCScene scene() const { return scene_.get(); }
    /// What all trees belong to, as long as the program runs.
    static RTCDevice device();

  private:
    RayScene scene_;
};

}  // namespace gswarm
