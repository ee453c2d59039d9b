#include "core/shape/ray_tree.h"

#include <algorithm>

namespace gswarm {

RTCDevice RayTree::device() {
    static const RTCDevice device = rtcNewDevice("threads=0");
    return device;
}

RayTree::RayTree(const Mesh& mesh, bool watertight) : scene_(rtcNewScene(device())) {
    if (watertight) {
        rtcSetSceneFlags(scene_.get(), RTC_SCENE_FLAG_ROBUST);
        rtcSetSceneBuildQuality(scene_.get(), RTC_BUILD_QUALITY_HIGH);
    }
    RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* positions = static_cast<glm::vec3*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(glm::vec3), mesh.positions.size()));
    std::copy(mesh.positions.begin(), mesh.positions.end(), positions);
    auto* triangles = static_cast<std::uint32_t*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh.triangles.size() / 3));
    std::copy(mesh.triangles.begin(), mesh.triangles.end(), triangles);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene_.get(), geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(scene_.get());
}

}  // namespace gswarm
