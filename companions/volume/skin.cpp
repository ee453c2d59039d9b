// The skin of a volume of distances (OpenVDB; K. Museth, VDB: high-resolution sparse volumes with dynamic topology, 2013).
#include <openvdb/tools/LevelSetRebuild.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>
#include <tbb/parallel_for.h>

#include <cmath>
#include <glm/common.hpp>

#include "core/shape/volume_skin.h"

namespace gswarm {
namespace {

struct Interrupter {
    const SkinWanted& wanted;
    void start(const char* = nullptr) {}
    void end() {}
    bool wasInterrupted(int = -1) const { return wanted.cancelled(); }
};

/// Triangles in numbers of voxels, as the library asks for them.
struct Triangles {
    const SkinWanted& wanted;
    std::size_t polygonCount() const { return wanted.triangles.size() / 3; }
    std::size_t pointCount() const { return wanted.places.size(); }
    std::size_t vertexCount(std::size_t) const { return 3; }
    void getIndexSpacePoint(std::size_t triangle, std::size_t corner, openvdb::Vec3d& to) const {
        const glm::vec3& p = wanted.places[wanted.triangles[3 * triangle + corner]];
        to = {p.x / wanted.voxel, p.y / wanted.voxel, p.z / wanted.voxel};
    }
};

void meshOf(const openvdb::FloatGrid& distances, double level, double adaptivity, Skin& skin) {
    std::vector<openvdb::Vec3s> points;
    std::vector<openvdb::Vec3I> triangles;
    std::vector<openvdb::Vec4I> quads;
    openvdb::tools::volumeToMesh(distances, points, triangles, quads, level, adaptivity);
    for (const auto& p : points) skin.places.emplace_back(p.x(), p.y(), p.z());
    // The library goes round them clockwise.
    for (const auto& q : quads) skin.quads.insert(skin.quads.end(), {q[0], q[3], q[2], q[1]});
    for (const auto& t : triangles) skin.triangles.insert(skin.triangles.end(), {t[0], t[2], t[1]});
}

void findNearest(const openvdb::Int32Grid& nearest, double voxel, Skin& skin) {
    skin.nearest.resize(skin.places.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, skin.places.size(), 4096), [&](const auto& range) {
        auto at = nearest.getConstAccessor();
        for (std::size_t v = range.begin(); v < range.end(); ++v) {
            const glm::dvec3 low = glm::floor(glm::dvec3(skin.places[v]) / voxel);
            for (int k = 0; k < 8; ++k) {
                const int triangle = at.getValue({int(low.x) + (k & 1), int(low.y) + (k >> 1 & 1), int(low.z) + (k >> 2 & 1)});
                skin.nearest[v][k] = triangle == int(openvdb::util::INVALID_IDX) ? Skin::noTriangle : triangle;
            }
        }
    });
}

}  // namespace
}  // namespace gswarm

extern "C" __attribute__((visibility("default"))) void gswarmMakeSkin(const gswarm::SkinWanted& wanted, gswarm::Skin& skin) {
    using namespace gswarm;
    Interrupter interrupter{wanted};
    const auto outside = static_cast<float>(wanted.blend / wanted.voxel) + volumeBand;
    const auto transform = openvdb::math::Transform::createLinearTransform(wanted.voxel);
    openvdb::Int32Grid nearest{openvdb::Int32(openvdb::util::INVALID_IDX)};
    auto distances =
        openvdb::tools::meshToVolume<openvdb::FloatGrid>(interrupter, Triangles{wanted}, *transform, outside, volumeBand, 0, &nearest);
    wanted.check();
    skin.bytes = static_cast<double>(distances->memUsage() + nearest.memUsage());
    skin.voxels = static_cast<double>(distances->activeVoxelCount());
    // What lies within `blend` of the shapes, without what lies within `blend` of the rest: a ball that large rolls along where they meet.
    if (wanted.blend > 0)
        distances =
            openvdb::tools::levelSetRebuild(*distances, static_cast<float>(wanted.blend), volumeBand, outside, nullptr, &interrupter);
    wanted.check();
    meshOf(*distances, -wanted.blend, wanted.adaptivity, skin);
    wanted.check();
    findNearest(nearest, wanted.voxel, skin);
}
