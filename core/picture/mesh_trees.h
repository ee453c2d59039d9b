#pragma once
#include <embree3/rtcore.h>

#include <map>
#include <memory>
#include <mutex>

#include "core/shape/shape_kind.h"

namespace gswarm {

/// Embree's trees of meshes. They are kept from picture to picture: one who pictures a scene again and again has only what is
/// new made. Safe from several threads.
class MeshTrees {
  public:
    MeshTrees();
    ~MeshTrees();
    MeshTrees(const MeshTrees&) = delete;
    MeshTrees& operator=(const MeshTrees&) = delete;

    RTCDevice device() const { return device_; }
    /// Of the shape's finest mesh; belongs to these trees.
    RTCScene of(const std::shared_ptr<const ShapeMeshes>& meshes);
    /// Lets go of those that nobody asked for since the last time.
    void forgetUnused();

  private:
    struct Kept {
        std::shared_ptr<const ShapeMeshes> meshes;
        RTCScene tree;
        bool used;
    };
    RTCDevice device_;
    std::mutex mutex_;
    std::map<const ShapeMeshes*, Kept> kept_;
};

}  // namespace gswarm
