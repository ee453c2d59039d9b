// The union of all that a swarm shows, as a volume of distances that is meshed again.
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
#include "core/shape/volume_skin.h"

namespace gswarm {
namespace {

struct United {
    ObjectId swarm;
    float blend, voxel, simpler;
};

/// A distance, the number of the nearest triangle, and what the tree of blocks takes beside them where few of a block's are used.
constexpr double bytesOfVoxel = 24, mostBytes = 2e9;

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
    const double wide = 2 * volumeBand + united.blend / united.voxel, voxels = area / united.voxel / united.voxel * wide;
    if (voxels * bytesOfVoxel <= mostBytes) return;
    double fits = united.voxel;
    while (area / fits / fits * (2 * volumeBand + united.blend / fits) * bytesOfVoxel > mostBytes) fits *= 1.25;
    throw Error("Voxels of " + metres(united.voxel) + " would take " + shortNumber(voxels * bytesOfVoxel / 1e9, 3) +
                " GB, more than the limit of " + shortNumber(mostBytes / 1e9, 3) + " GB; make them " + metres(fits) + " or larger.");
}

/// At each place the colours and numbers of what was nearest around it.
void takeOver(Mesh& mesh, const Mesh& joined, const Skin& skin, double voxel) {
    mesh.colours.resize(mesh.positions.size());
    for (const NamedNumbers& named : joined.numbers) mesh.numbers.push_back({named.name, std::vector<float>(mesh.positions.size())});
    forRanges(mesh.positions.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t v = begin; v < end; ++v) {
            const glm::dvec3 place = glm::dvec3(mesh.positions[v]) / voxel, share = place - glm::floor(place);
            glm::dvec4 sum(0);
            std::array<double, mostNamedValues> numbers{};
            double weights = 0;
            for (int k = 0; k < 8; ++k) {
                const glm::ivec3 side(k & 1, k >> 1 & 1, k >> 2 & 1);
                const int triangle = skin.nearest[v][static_cast<std::size_t>(k)];
                if (triangle == Skin::noTriangle) continue;
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

Mesh meshOf(const Skin& skin) {
    Mesh mesh;
    for (const glm::vec3& place : skin.places) addVertex(mesh, place, {0, 1, 0}, {0, 0});
    for (std::size_t q = 0; q < skin.quads.size(); q += 4) {
        const std::uint32_t* corners = &skin.quads[q];
        addFace(mesh, {corners[0], corners[2], corners[3], corners[0], corners[1], corners[2]});
    }
    for (std::size_t t = 0; t < skin.triangles.size(); t += 3)
        addFace(mesh, {skin.triangles[t], skin.triangles[t + 1], skin.triangles[t + 2]});
    return withNormals(mesh, 180);
}

ShapeForm make(const United& united, const ShapeSource& source) {
    if (!united.swarm) throw Error("Choose the swarm that it is made of.");
    const auto shown = source.shown(united.swarm);
    refuseOpen(shown->shapes);
    const Mesh joined = joinedMesh(*shown, 0, source.progress);
    const double area = areaOf(joined);
    if (!(area > 0)) throw Error("The shapes that the swarm shows have no surface; give them a size.");
    refuseLarge(united, area);
    const auto stop = [&] {
        if (source.progress) source.progress->check();
    };
    const auto cancelled = [&] { return source.progress && source.progress->cancelled(); };
    const Skin skin = skinOf({joined.positions, joined.triangles, united.voxel, united.blend, united.simpler / 100, cancelled, stop});
    ShapeForm form;
    form.mesh = meshOf(skin);
    if (form.mesh.triangles.empty())
        throw Error("Nothing of it is as thick as its voxels of " + metres(united.voxel) + "; make them smaller.");
    stop();
    takeOver(form.mesh, joined, skin, united.voxel);
    form.note = "Voxels of " + metres(united.voxel) + ": " + grouped(skin.voxels) + " of them, " +
                shortNumber(std::max(0.1, std::round(skin.bytes / 1e5) / 10), 3) + " MB.";
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
