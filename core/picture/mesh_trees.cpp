#include "core/picture/mesh_trees.h"

#include <algorithm>

namespace gswarm {
namespace {

RTCScene treeOf(RTCDevice device, const Mesh& mesh) {
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* positions = static_cast<glm::vec3*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(glm::vec3), mesh.positions.size()));
    std::copy(mesh.positions.begin(), mesh.positions.end(), positions);
    auto* triangles = static_cast<std::uint32_t*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh.triangles.size() / 3));
    std::copy(mesh.triangles.begin(), mesh.triangles.end(), triangles);
    rtcCommitGeometry(geometry);
    RTCScene tree = rtcNewScene(device);
    rtcAttachGeometry(tree, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(tree);
    return tree;
}

}  // namespace

MeshTrees::MeshTrees() : device_(rtcNewDevice("threads=0")) {}

MeshTrees::~MeshTrees() {
    for (const auto& [mesh, kept] : kept_) rtcReleaseScene(kept.tree);
    rtcReleaseDevice(device_);
}

RTCScene MeshTrees::of(const std::shared_ptr<const ShapeMeshes>& meshes) {
    const std::lock_guard lock(mutex_);
    const auto found = kept_.find(meshes.get());
    if (found != kept_.end()) {
        found->second.used = true;
        return found->second.tree;
    }
    return kept_.emplace(meshes.get(), Kept{meshes, treeOf(device_, meshes->mesh()), true}).first->second.tree;
}

void MeshTrees::forgetUnused() {
    const std::lock_guard lock(mutex_);
    std::erase_if(kept_, [](const auto& entry) {
        if (!entry.second.used) rtcReleaseScene(entry.second.tree);
        return !entry.second.used;
    });
    for (auto& [mesh, kept] : kept_) kept.used = false;
}

}  // namespace gswarm
