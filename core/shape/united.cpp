// The union of all that a swarm shows, as a volume of distances that is meshed again (OpenVDB; K. Museth, VDB: high-resolution sparse
// volumes with dynamic topology, 2013).
#include <openvdb/tools/LevelSetRebuild.h>
#include <openvdb/tools/MeshToVolume.h>
#include <openvdb/tools/VolumeToMesh.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <set>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/scene/object_kinds.h"
#include "core/shape/inside.h"
#include "core/shape/joined_mesh.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

struct United {
    ObjectId swarm;
    float blend, voxel, simpler;
};

/// Voxels on either side of a surface whose distances are kept.
constexpr float band = 3;
/// A distance, the number of the nearest triangle, and what the tree of blocks takes beside them where few of a block's are used.
constexpr double bytesOfVoxel = 24, mostBytes = 2e9;

struct Interrupter {
    Progress* progress;
    void start(const char* = nullptr) {}
    void end() {}
    bool wasInterrupted(int = -1) const { return progress && progress->cancelled(); }
};

/// Triangles in numbers of voxels, as the library asks for them.
struct Triangles {
    const Mesh& mesh;
    double voxel;
    std::size_t polygonCount() const { return mesh.triangleCount(); }
    std::size_t pointCount() const { return mesh.positions.size(); }
    std::size_t vertexCount(std::size_t) const { return 3; }
    void getIndexSpacePoint(std::size_t triangle, std::size_t corner, openvdb::Vec3d& to) const {
        const glm::vec3& p = mesh.positions[mesh.triangles[3 * triangle + corner]];
        to = {p.x / voxel, p.y / voxel, p.z / voxel};
    }
};

std::string metres(double length) {
    return length >= 1      ? shortNumber(length, 3) + " m"
           : length >= 0.01 ? shortNumber(length * 100, 3) + " cm"
                            : shortNumber(length * 1000, 3) + " mm";
}

void refuseOpen(const StandingShapes& shapes) {
    std::set<const ShapeMeshes*> asked;
    for (const StandingShape& shape : shapes) {
        if (!asked.insert(shape.meshes.get()).second) continue;
        const Mesh& mesh = shape.meshes->mesh();
        if (!mesh.triangles.empty() && !topologyOf(mesh).closed())
            throw Error("A shape that the swarm shows is open and has no inside; repeat closed ones, or thicken it.");
    }
}

/// By the surface, and the band on either side of it.
void refuseLarge(const United& united, double area) {
    const double wide = 2 * band + united.blend / united.voxel, voxels = area / united.voxel / united.voxel * wide;
    if (voxels * bytesOfVoxel <= mostBytes) return;
    double fits = united.voxel;
    while (area / fits / fits * (2 * band + united.blend / fits) * bytesOfVoxel > mostBytes) fits *= 1.25;
    throw Error("Voxels of " + metres(united.voxel) + " would take " + shortNumber(voxels * bytesOfVoxel / 1e9, 3) +
                " GB, more than the limit of " + shortNumber(mostBytes / 1e9, 3) + " GB; make them " + metres(fits) + " or larger.");
}

/// At each place the colours and numbers of what was nearest around it.
void takeOver(Mesh& mesh, const Mesh& joined, const openvdb::Int32Grid& nearest, double voxel) {
    mesh.colours.resize(mesh.positions.size());
    for (const NamedNumbers& named : joined.numbers) mesh.numbers.push_back({named.name, std::vector<float>(mesh.positions.size())});
    forRanges(mesh.positions.size(), 4096, [&](std::size_t begin, std::size_t end) {
        auto at = nearest.getConstAccessor();
        for (std::size_t v = begin; v < end; ++v) {
            const glm::dvec3 place = glm::dvec3(mesh.positions[v]) / voxel, low = glm::floor(place), share = place - low;
            glm::dvec4 sum(0);
            std::array<double, mostNamedValues> numbers{};
            double weights = 0;
            for (int k = 0; k < 8; ++k) {
                const glm::ivec3 side(k & 1, k >> 1 & 1, k >> 2 & 1);
                const openvdb::Coord voxelAt(int(low.x) + side.x, int(low.y) + side.y, int(low.z) + side.z);
                const int triangle = at.getValue(voxelAt);
                if (triangle == int(openvdb::util::INVALID_IDX)) continue;
                double weight = 1e-6;
                weight += (side.x ? share.x : 1 - share.x) * (side.y ? share.y : 1 - share.y) * (side.z ? share.z : 1 - share.z);
                const std::uint32_t from = joined.triangles[3 * std::size_t(triangle)];
                sum += weight * glm::dvec4(joined.colours[from]);
                for (std::size_t n = 0; n < joined.numbers.size(); ++n) numbers[n] += weight * joined.numbers[n].numbers[from];
                weights += weight;
            }
            mesh.colours[v] = weights > 0 ? glm::vec4(sum / weights) : glm::vec4(1);
            for (std::size_t n = 0; n < joined.numbers.size(); ++n)
                mesh.numbers[n].numbers[v] = weights > 0 ? static_cast<float>(numbers[n] / weights) : 0;
        }
    });
}

Mesh meshOf(const openvdb::FloatGrid& distances, double level, double adaptivity) {
    std::vector<openvdb::Vec3s> points;
    std::vector<openvdb::Vec3I> triangles;
    std::vector<openvdb::Vec4I> quads;
    openvdb::tools::volumeToMesh(distances, points, triangles, quads, level, adaptivity);
    Mesh mesh;
    for (const auto& p : points) addVertex(mesh, {p.x(), p.y(), p.z()}, {0, 1, 0}, {0, 0});
    // The library goes round them clockwise.
    for (const auto& q : quads) addFace(mesh, {q[0], q[2], q[1], q[0], q[3], q[2]});
    for (const auto& t : triangles) addFace(mesh, {t[0], t[2], t[1]});
    return withNormals(mesh, 180);
}

/// What lies within `blend` of the shapes, without what lies within `blend` of the rest: a ball that large rolls along where they meet.
openvdb::FloatGrid::Ptr blended(const openvdb::FloatGrid& distances, const United& united, Interrupter& interrupter) {
    return openvdb::tools::levelSetRebuild(distances, united.blend, band, united.blend / united.voxel + band, nullptr, &interrupter);
}

ShapeForm make(const United& united, const ShapeSource& source) {
    if (!united.swarm) throw Error("Choose the swarm that it is made of.");
    const auto shown = source.shown(united.swarm);
    refuseOpen(shown->shapes);
    const Mesh joined = joinedMesh(*shown, 0, source.progress);
    const double area = areaOf(joined);
    if (!(area > 0)) throw Error("The shapes that the swarm shows have no surface; give them a size.");
    refuseLarge(united, area);
    Interrupter interrupter{source.progress};
    const auto stop = [&] {
        if (source.progress) source.progress->check();
    };
    const auto transform = openvdb::math::Transform::createLinearTransform(double(united.voxel));
    openvdb::Int32Grid nearest{openvdb::Int32(openvdb::util::INVALID_IDX)};
    auto distances = openvdb::tools::meshToVolume<openvdb::FloatGrid>(interrupter, Triangles{joined, double(united.voxel)}, *transform,
                                                                      united.blend / united.voxel + band, band, 0, &nearest);
    stop();
    const double bytes = static_cast<double>(distances->memUsage() + nearest.memUsage());
    const auto voxels = static_cast<double>(distances->activeVoxelCount());
    const bool blends = united.blend > 0;
    if (blends) distances = blended(*distances, united, interrupter);
    stop();
    ShapeForm form;
    form.mesh = meshOf(*distances, blends ? -double(united.blend) : 0, double(united.simpler) / 100);
    if (form.mesh.triangles.empty())
        throw Error("Nothing of it is as thick as its voxels of " + metres(united.voxel) + "; make them smaller.");
    stop();
    takeOver(form.mesh, joined, nearest, united.voxel);
    form.note = "Voxels of " + metres(united.voxel) + ": " + grouped(voxels) + " of them, " +
                shortNumber(std::max(0.1, std::round(bytes / 1e5) / 10), 3) + " MB.";
    return form;
}

ShapeKind unitedKind() {
    DescribeShape<United> d("united", "Union", "All closed shapes that a swarm shows as one volume with one skin, smooth where they meet");
    d.found("boolean merge melt metaballs blob remesh voxel weld fuse smooth volume")
        .reference("swarm", &United::swarm, {ObjectType::swarm},
                   "All its instances as they lie at the frame, with their copies by symmetry, become one volume in the swarm's own space")
        .label("Made of")
        .length("blend", &United::blend, 0.1, {0, 0.5}, "Radius of the rounding where shapes meet; 0 leaves the edge")
        .hard(0, 1e3)
        .length("voxel", &United::voxel, 0.03, {0.01, 0.2},
                "Size of the steps in which the volume is measured: smaller is finer, and takes more memory")
        .hard(1e-4, 1e3)
        .number("simpler", &United::simpler, 0, {0, 100}, "Fewer faces where the surface is flat")
        .unit("%")
        .hard(0, 100);
    ShapeKind kind = makes(d, make);
    kind.swarm = [](const void* data) { return static_cast<const United*>(data)->swarm; };
    return kind;
}

}  // namespace

const ShapeKind unitedShape = unitedKind();

}  // namespace gswarm
