#include "core/picture/mesh_trees.h"

namespace gswarm {

RTCScene MeshTrees::of(const std::shared_ptr<const ShapeMeshes>& meshes) {
    const std::lock_guard lock(mutex_);
    const auto found = kept_.find(meshes.get());
    if (found != kept_.end()) {
        found->second.used = true;
        return found->second.tree->scene();
    }
    return kept_.emplace(meshes.get(), Kept{meshes, std::make_unique<RayTree>(meshes->mesh()), true}).first->second.tree->scene();
}

void MeshTrees::forgetUnused() {
    const std::lock_guard lock(mutex_);
    std::erase_if(kept_, [](const auto& entry) { return !entry.second.used; });
    for (auto& [mesh, kept] : kept_) kept.used = false;
}

}  // namespace gswarm
