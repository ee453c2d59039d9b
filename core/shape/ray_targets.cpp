#include "core/shape/ray_targets.h"

#include <cmath>
#include <map>

namespace gswarm {
namespace {

/// From the world to the shape's own metres.
glm::dmat4x3 ownSpace(const StandingShape& shape) {
    const glm::dmat4 stand(shape.stand);
    const glm::dmat3 back = glm::inverse(glm::dmat3(stand));
    return {back[0], back[1], back[2], -(back * glm::dvec3(stand[3]))};
}

}  // namespace

RayTargets::RayTargets(StandingShapes standing, const std::function<std::shared_ptr<const RayTree>(const ShapeMeshes&)>& treeOf)
    : standing_(std::move(standing)), scene_(rtcNewScene(RayTree::device())) {
    std::map<const ShapeMeshes*, std::shared_ptr<const RayTree>> made;
    rtcSetSceneFlags(scene_.get(), RTC_SCENE_FLAG_ROBUST);
    for (std::size_t k = 0; k < standing_.size(); ++k) {
        const StandingShape& shape = standing_[k];
        own_.push_back(ownSpace(shape));
        if (shape.meshes->mesh().triangles.empty()) continue;
        auto& tree = made[shape.meshes.get()];
        if (!tree) trees_.push_back(tree = treeOf(*shape.meshes));
        RTCGeometry geometry = rtcNewGeometry(RayTree::device(), RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, tree->scene());
        rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &shape.stand[0][0]);
        rtcCommitGeometry(geometry);
        rtcAttachGeometryByID(scene_.get(), geometry, static_cast<unsigned>(k));
        rtcReleaseGeometry(geometry);
    }
    rtcCommitScene(scene_.get());
}

RayTargets::Hit RayTargets::hitAt(const Ray& ray, float reach, unsigned which, unsigned triangle) const {
    // In the shape's own metres the ray is as long, and what goes round in a mirror goes round as it should.
    const glm::dmat4x3& own = own_[which];
    const glm::dvec3 from = own * glm::dvec4(ray.from, 1), along = own * glm::dvec4(ray.along, 0);
    const Mesh& mesh = standing_[which].meshes->mesh();
    const std::uint32_t* corners = &mesh.triangles[3 * std::size_t{triangle}];
    const glm::dvec3 a(mesh.positions[corners[0]]), b(mesh.positions[corners[1]]), c(mesh.positions[corners[2]]);
    const glm::dvec3 normal = glm::cross(b - a, c - a);
    const double across = glm::dot(normal, along);
    if (across == 0) return {};
    const double distance = glm::dot(normal, a - from) / across;
    return {static_cast<float>(std::min(std::max(distance, 0.0), static_cast<double>(reach))), static_cast<int>(which), across > 0};
}

void RayTargets::first(const Ray* rays, int count, float reach, Hit* hits) const {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    alignas(64) int valid[packet] = {};
    alignas(64) RTCRayHit16 shot{};
    for (int k = 0; k < count; ++k) {
        const Ray& ray = rays[k];
        valid[k] = ray.along == glm::vec3(0) ? 0 : -1;
        shot.ray.org_x[k] = ray.from.x, shot.ray.org_y[k] = ray.from.y, shot.ray.org_z[k] = ray.from.z;
        shot.ray.dir_x[k] = ray.along.x, shot.ray.dir_y[k] = ray.along.y, shot.ray.dir_z[k] = ray.along.z;
        shot.ray.tfar[k] = reach;
        shot.ray.mask[k] = ~0u;
        shot.hit.geomID[k] = shot.hit.instID[0][k] = RTC_INVALID_GEOMETRY_ID;
    }
    rtcIntersect16(valid, scene_.get(), &context, &shot);
    for (int k = 0; k < count; ++k)
        hits[k] = valid[k] == 0 || shot.hit.geomID[k] == RTC_INVALID_GEOMETRY_ID
                      ? Hit{}
                      : hitAt(rays[k], reach, shot.hit.instID[0][k], shot.hit.primID[k]);
}

}  // namespace gswarm
