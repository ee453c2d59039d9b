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

/// The library's own types throughout: what it has compiled for them is not compiled once more, which takes minutes.
struct Interrupter : openvdb::util::NullInterrupter {
    explicit Interrupter(const SkinWanted& asked) : wanted(asked) {}
    bool wasInterrupted(int) override { return wanted.cancelled(); }
    const SkinWanted& wanted;
};

/// Places in numbers of voxels, as the library asks for them.
std::vector<openvdb::Vec3s> voxelPlaces(const SkinWanted& wanted) {
    std::vector<openvdb::Vec3s> places;
    places.reserve(wanted.places.size());
    for (const glm::vec3& p : wanted.places) {
        const glm::dvec3 at = glm::dvec3(p) / wanted.voxel;
        places.emplace_back(static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(at.z));
    }
    return places;
}

std::vector<openvdb::Vec3I> trianglesOf(const SkinWanted& wanted) {
    std::vector<openvdb::Vec3I> triangles;
    triangles.reserve(wanted.triangles.size() / 3);
    for (std::size_t k = 0; k + 2 < wanted.triangles.size(); k += 3)
        triangles.emplace_back(wanted.triangles[k], wanted.triangles[k + 1], wanted.triangles[k + 2]);
    return triangles;
}

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
    openvdb::util::NullInterrupter& asked = interrupter;
    const auto places = voxelPlaces(wanted);
    const auto triangles = trianglesOf(wanted);
    const openvdb::tools::QuadAndTriangleDataAdapter<openvdb::Vec3s, openvdb::Vec3I> mesh(places, triangles);
    auto distances = openvdb::tools::meshToVolume<openvdb::FloatGrid>(asked, mesh, *transform, outside, volumeBand, 0, &nearest);
    wanted.check();
    skin.bytes = static_cast<double>(distances->memUsage() + nearest.memUsage());
    skin.voxels = static_cast<double>(distances->activeVoxelCount());
    // What lies within `blend` of the shapes, without what lies within `blend` of the rest: a ball that large rolls along where they meet.
    if (wanted.blend > 0)
        distances = openvdb::tools::levelSetRebuild(*distances, static_cast<float>(wanted.blend), volumeBand, outside, nullptr, &asked);
    wanted.check();
    meshOf(*distances, -wanted.blend, wanted.adaptivity, skin);
    wanted.check();
    findNearest(nearest, wanted.voxel, skin);
}
