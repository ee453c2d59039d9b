#include "core/shape/ray_targets.h"

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <map>

namespace gswarm {
namespace {

glm::dvec3 cornerOf(const StandingShape& shape, std::uint32_t triangle, std::size_t k) {
    const Mesh& mesh = shape.meshes->mesh();
    const glm::dvec3 own(mesh.positions[mesh.triangles[3 * std::size_t{triangle} + k]]);
    return glm::dvec3(shape.place) + glm::dquat(shape.rotation) * (glm::dvec3(shape.scale) * own);
}

}  // namespace

RayTargets::RayTargets(StandingShapes standing, const std::function<std::shared_ptr<const RayTree>(const ShapeMeshes&)>& treeOf)
    : standing_(std::move(standing)), scene_(rtcNewScene(RayTree::device())) {
    std::map<const ShapeMeshes*, std::shared_ptr<const RayTree>> made;
    rtcSetSceneFlags(scene_.get(), RTC_SCENE_FLAG_ROBUST);
    for (std::size_t k = 0; k < standing_.size(); ++k) {
        const StandingShape& shape = standing_[k];
        if (shape.meshes->mesh().triangles.empty()) continue;
        auto& tree = made[shape.meshes.get()];
        if (!tree) trees_.push_back(tree = treeOf(*shape.meshes));
        RTCGeometry geometry = rtcNewGeometry(RayTree::device(), RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, tree->scene());
        glm::mat4 matrix = glm::mat4_cast(shape.rotation) * glm::scale(glm::mat4(1), shape.scale);
        matrix[3] = glm::vec4(shape.place, 1);
        rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &matrix[0][0]);
        rtcCommitGeometry(geometry);
        rtcAttachGeometryByID(scene_.get(), geometry, static_cast<unsigned>(k));
        rtcReleaseGeometry(geometry);
    }
    rtcCommitScene(scene_.get());
}

RayTargets::Hit RayTargets::first(const glm::vec3& from, const glm::vec3& along, float reach) const {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    RTCRayHit ray{};
    ray.ray.org_x = from.x, ray.ray.org_y = from.y, ray.ray.org_z = from.z;
    ray.ray.dir_x = along.x, ray.ray.dir_y = along.y, ray.ray.dir_z = along.z;
    ray.ray.tfar = reach;
    ray.ray.mask = ~0u;
    ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(scene_.get(), &context, &ray);
    if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return {};
    const StandingShape& shape = standing_[ray.hit.instID[0]];
    const glm::dvec3 a = cornerOf(shape, ray.hit.primID, 0);
    const glm::dvec3 normal = glm::cross(cornerOf(shape, ray.hit.primID, 1) - a, cornerOf(shape, ray.hit.primID, 2) - a);
    const double across = glm::dot(normal, glm::dvec3(along));
    if (across == 0) return {};
    const double distance = glm::dot(normal, a - glm::dvec3(from)) / across;
    // Seen in a mirror, what goes round is the other way.
    const bool mirrored = shape.scale.x * shape.scale.y * shape.scale.z < 0;
    return {static_cast<float>(std::min(std::max(distance, 0.0), static_cast<double>(reach))), static_cast<int>(ray.hit.instID[0]),
            (across > 0) != mirrored};
}

}  // namespace gswarm
