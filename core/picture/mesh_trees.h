#pragma once
#include <map>
#include <memory>
#include <mutex>

#include "core/shape/ray_tree.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

/// The trees of meshes. They are kept from picture to picture: one who pictures a scene again and again has only what is new made.
/// Safe from several threads.
class MeshTrees {
  public:
    RTCDevice device() const { return RayTree::device(); }
    /// Of the shape's finest mesh; belongs to these trees.
    RTCScene of(const std::shared_ptr<const ShapeMeshes>& meshes);
    /// Lets go of those that nobody asked for since the last time.
    void forgetUnused();

  private:
    struct Kept {
        std::shared_ptr<const ShapeMeshes> meshes;
        std::unique_ptr<RayTree> tree;
        bool used;
    };
    std::mutex mutex_;
    std::map<const ShapeMeshes*, Kept> kept_;
};

}  // namespace gswarm
