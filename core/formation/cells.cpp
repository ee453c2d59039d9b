// A closed mesh filled with cells of a lattice.

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/formation/formation_kind.h"
#include "core/formation/surface_darts.h"
#include "core/shape/homes.h"
#include "core/shape/inside.h"

namespace gswarm {
namespace {

enum class CellsKeep { centre, whole, touching };
enum class CellsAnchor { centre, corner };

struct Cells {
    ObjectId shape;
    float spacing;
    CellsKeep keep;
    bool skin;
    CellsAnchor anchor;
};

constexpr double mostCandidates = 400e6;

/// The part of the lattice around a mesh: from … to − 1 on each axis.
struct Lattice {
    glm::ivec3 from, to;
    double spacing, shift;  ///< a cell's middle lies at (index + shift) · spacing

    glm::ivec3 size() const { return to - from; }
    glm::vec3 middle(int x, int y, int z) const { return glm::vec3((glm::dvec3(x, y, z) + shift) * spacing); }
    std::size_t index(int x, int y, int z) const {
        const glm::ivec3 s = size();
        return (static_cast<std::size_t>(y - from.y) * static_cast<std::size_t>(s.z) + static_cast<std::size_t>(z - from.z)) *
                   static_cast<std::size_t>(s.x) +
               static_cast<std::size_t>(x - from.x);
    }
};

Lattice latticeOf(const Cells& cells, const Mesh& mesh) {
    const Bounds bounds = boundsOf(mesh);
    const double shift = cells.anchor == CellsAnchor::centre ? 0 : 0.5;
    const auto at = [&](const glm::vec3& p) { return glm::dvec3(p) / double(cells.spacing) - shift; };
    const glm::dvec3 low = glm::floor(at(bounds.low)) - 1.0, high = glm::ceil(at(bounds.high)) + 2.0, size = high - low;
    if (size.x * size.y * size.z > mostCandidates || glm::max(glm::abs(low), glm::abs(high)).x > 1e6 ||
        glm::max(glm::abs(low), glm::abs(high)).y > 1e6 || glm::max(glm::abs(low), glm::abs(high)).z > 1e6)
        throw Error("The cells are too small for this mesh: " + std::to_string(static_cast<long long>(size.x * size.y * size.z)) +
                    " would have to be looked at; choose a larger spacing.");
    return {glm::ivec3(low), glm::ivec3(high), cells.spacing, shift};
}

/// Whether a triangle meets a box around a middle (Akenine-Möller 2001).
bool meetsBox(const glm::vec3& middle, float half, const glm::vec3& p, const glm::vec3& q, const glm::vec3& r) {
    const glm::vec3 a = p - middle, b = q - middle, c = r - middle;
    for (int k = 0; k < 3; ++k)
        if (std::min({a[k], b[k], c[k]}) > half || std::max({a[k], b[k], c[k]}) < -half) return false;
    const glm::vec3 normal = glm::cross(b - a, c - a);
    if (std::abs(glm::dot(normal, a)) > half * (std::abs(normal.x) + std::abs(normal.y) + std::abs(normal.z))) return false;
    for (const glm::vec3& edge : {b - a, c - b, a - c})
        for (int k = 0; k < 3; ++k) {
            glm::vec3 axis(0), along(0);
            along[k] = 1;
            axis = glm::cross(along, edge);
            const float reach = half * (std::abs(axis.x) + std::abs(axis.y) + std::abs(axis.z));
            const float x = glm::dot(axis, a), y = glm::dot(axis, b), z = glm::dot(axis, c);
            if (std::min({x, y, z}) > reach || std::max({x, y, z}) < -reach) return false;
        }
    return true;
}

/// Marks the cells that the surface goes through.
std::vector<char> surfaceCells(const Lattice& lattice, const Mesh& mesh, const FormationSource& source) {
    const glm::ivec3 size = lattice.size();
    std::vector<char> marked(static_cast<std::size_t>(size.x) * static_cast<std::size_t>(size.y) * static_cast<std::size_t>(size.z), 0);
    // Touching counts from the inside of a cell, so that cells flush with a wall are whole.
    const auto half = static_cast<float>(lattice.spacing * 0.5 * (1 - 1e-4));
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3) {
        if (t % 65536 == 0) source.check();
        const glm::vec3 &a = mesh.positions[mesh.triangles[t]], &b = mesh.positions[mesh.triangles[t + 1]],
                        &c = mesh.positions[mesh.triangles[t + 2]];
        const auto cell = [&](const glm::vec3& p) { return glm::ivec3(glm::floor(glm::dvec3(p) / lattice.spacing - lattice.shift + 0.5)); };
        const glm::ivec3 low = glm::max(cell(glm::min(a, glm::min(b, c))), lattice.from),
                         high = glm::min(cell(glm::max(a, glm::max(b, c))), lattice.to - 1);
        for (int y = low.y; y <= high.y; ++y)
            for (int z = low.z; z <= high.z; ++z)
                for (int x = low.x; x <= high.x; ++x)
                    if (char& mark = marked[lattice.index(x, y, z)]; !mark && meetsBox(lattice.middle(x, y, z), half, a, b, c)) mark = 1;
    }
    return marked;
}

double count(const Cells& cells, const FormationSource& source) {
    if (!cells.shape) throw Error("Choose the closed shape to fill.");
    const auto shape = source.shape(cells.shape);
    return std::max(1.0, std::floor(volumeOf(meshOf(shape)) / std::pow(double(cells.spacing), 3)));
}

Homes make(const Cells& cells, const FormationSource& source) {
    if (!cells.shape) throw Error("Choose the closed shape to fill.");
    const auto shape = source.shape(cells.shape);
    const Mesh& mesh = meshOf(shape);
    const Lattice lattice = latticeOf(cells, mesh);
    const glm::ivec3 size = lattice.size();
    const InsideTest inside(mesh);
    std::vector<char> kept(static_cast<std::size_t>(size.x) * static_cast<std::size_t>(size.y) * static_cast<std::size_t>(size.z), 0);
    std::atomic<int> done{0};
    forEach(static_cast<std::size_t>(lattice.to.y - lattice.from.y), [&](std::size_t layer) {
        const int y = lattice.from.y + static_cast<int>(layer);
        if (source.progress && source.progress->cancelled()) return;
        for (int z = lattice.from.z; z < lattice.to.z; ++z)
            for (int x = lattice.from.x; x < lattice.to.x; ++x) kept[lattice.index(x, y, z)] = inside(lattice.middle(x, y, z));
        source.report(0.9 * ++done / size.y);
    });
    source.check();
    if (cells.keep != CellsKeep::centre) {
        const auto surface = surfaceCells(lattice, mesh, source);
        for (std::size_t i = 0; i < kept.size(); ++i) {
            if (cells.keep == CellsKeep::whole && surface[i]) kept[i] = 0;
            if (cells.keep == CellsKeep::touching && surface[i]) kept[i] = 1;
        }
    }
    // The lattice reaches a cell further than the mesh on every side, so neighbours are always there.
    const auto enclosed = [&](int x, int y, int z) {
        return kept[lattice.index(x - 1, y, z)] && kept[lattice.index(x + 1, y, z)] && kept[lattice.index(x, y - 1, z)] &&
               kept[lattice.index(x, y + 1, z)] && kept[lattice.index(x, y, z - 1)] && kept[lattice.index(x, y, z + 1)];
    };
    Homes homes;
    for (int y = lattice.from.y + 1; y < lattice.to.y - 1; ++y)
        for (int z = lattice.from.z + 1; z < lattice.to.z - 1; ++z)
            for (int x = lattice.from.x + 1; x < lattice.to.x - 1; ++x)
                if (kept[lattice.index(x, y, z)] && !(cells.skin && enclosed(x, y, z))) {
                    homes.add(lattice.middle(x, y, z), latticeId(x, y, z));
                }
    if (homes.count() == 0) throw Error("No cell fits into the shape; choose a smaller spacing, or a shape that is closed.");
    return homes;
}

Spacing spacing(const Cells& cells) {
    const float s = cells.spacing;
    return {{{{s, 0, 0}}, {{0, s, 0}}, {{0, 0, s}}}, 0, false};
}

}  // namespace

const FormationKind cellsFormation = fittedBy(
    sampled(
        fitting(guessed(stores(
            DescribeFormation<Cells>("cells", "Cells in a mesh", "Fills a closed shape with cells, solid or as a skin")
                .found("voxels volume fill bricks cubes solid")
                .reference("shape", &Cells::shape, {ObjectType::shape}, "The closed shape that is filled")
                .needs(Needs::closedMesh)
                .length("spacing", &Cells::spacing, 0.25, {0.02, 2}, "Width of a cell")
                .hard(1e-4, 1e4)
                .choice("keep", &Cells::keep, {{"centre", "Middle inside"}, {"whole", "Wholly inside"}, {"touching", "Inside or touching"}},
                        "Which cells count")
                .toggle("skin", &Cells::skin, false, "Only the outermost layer")
                .choice("anchor", &Cells::anchor, {{"centre", "Middle of a cell"}, {"corner", "Corner of a cell"}},
                        "What lies at the middle of the swarm"),
            count, make, spacing))),
        {{"spacing", fixedNumbers({0.62})}}),
    "spacing");

}  // namespace gswarm
