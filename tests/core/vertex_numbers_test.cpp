// Named values of the vertices of membranes, joined meshes and unions: where they come from and who reads them.
#include <gtest/gtest.h>

#include <glm/geometric.hpp>

#include "core/base/atomic_file.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/formula/bind.h"
#include "core/read/table.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"
#include "tests/core/made_of_swarm.h"

using namespace gswarm;
using glm::vec3;
using making::Build, making::MadeOfSwarm;

namespace {

/// A swarm whose instances carry a value by a formula, and a shape that is made of it.
struct Valued : MadeOfSwarm {
    ObjectId value;

    Valued(Build from, const char* kind, const char* formula) : MadeOfSwarm(std::move(from), kind) {
        const Edit named = addNamedValue(b.scene, b.swarm, "Heat");
        b.scene = named.scene;
        value = named.made;
        const ObjectId g = b.gesture("formula");
        b.set(g, "pattern-value", Value(boundFormula(b.scene, formula)));
        b.set(g, "value", true).set(g, "valueOf", Value(value)).set(g, "valueAmount", {1});
    }
    /// The shape's only numbers, by vertex.
    std::vector<float> numbers() const {
        const Mesh mesh = backdrop().meshes->mesh();
        EXPECT_EQ(mesh.numbers.size(), 1u);
        EXPECT_EQ(mesh.numbers.at(0).name, "Heat");
        EXPECT_EQ(mesh.numbers.at(0).numbers.size(), mesh.positions.size());
        return mesh.numbers.at(0).numbers;
    }
    /// The shape is of a mix of two materials by the value; they differ by their metal.
    void mixByValue() {
        const Edit mix = mixMaterial(b.scene, b.material);
        b.scene = mix.scene;
        const ObjectId second = referenceOf(b.scene.at(mix.made).part("material"), "second");
        b.set(b.material, "metal", {0}).set(second, "metal", {1});
        b.choose(mix.made, "by", "namedValue").set(mix.made, "value", Value(value));
        b.set(made, "display-material", Value(mix.made));
    }
    std::string written(const ExporterKind& kind, const char* name, const std::vector<std::pair<std::string, Value>>& settings = {}) const {
        Evaluator evaluator;
        Progress progress;
        Part part = standardPart(kind);
        for (const auto& [id, to] : settings) part.values[static_cast<std::size_t>(kind.indexOf(id))] = to;
        writeExport(part, {evaluator, b.scene, {}, 0, {0, 0}, b.swarm}, making::temporaryFolder() / name, progress);
        return readFile(making::temporaryFolder() / name, 1 << 26);
    }
};

Build onCorners(const char* shape) {
    Build b;
    b.standOn("elements", shape);
    return b.choose(b.formation, "element", "corners");
}

}  // namespace

TEST(VertexNumbers, OfAMembraneAreThoseOfItsCorners) {
    const Valued v(onCorners("box"), "membrane", "i/7");
    const auto numbers = v.numbers();
    const Mesh mesh = v.backdrop().meshes->mesh();
    const Topology topology = topologyOf(mesh);
    for (std::size_t k = 0; k < numbers.size(); ++k) EXPECT_NEAR(numbers[k], static_cast<float>(topology.corner[k]) / 7, 1e-6f);
}

TEST(VertexNumbers, OfAJoinedMeshAreThoseOfTheInstances) {
    const Valued v(Build::grid(3, 1, 1), "joined", "i+1");
    const auto numbers = v.numbers();
    for (std::size_t k = 0; k < numbers.size(); ++k) EXPECT_EQ(numbers[k], static_cast<float>(1 + 3 * k / numbers.size()));
}

TEST(VertexNumbers, OfAnInnerSwarmAreThoseOfWhatRepeatsIt) {
    Build b = Build::grid(2, 1, 1);
    const Edit outer = addSwarmOf(b.scene, b.swarm);
    b.scene = outer.scene;
    b.swarm = outer.made;
    b.formation = b.scene.at(b.swarm).list("formations").front();
    b.formationKind("grid").set(b.formation, "count", {3, 1, 1});
    const Valued v(b, "joined", "i");
    const auto numbers = v.numbers();
    for (std::size_t k = 0; k < numbers.size(); ++k) EXPECT_EQ(numbers[k], static_cast<float>(3 * k / numbers.size()));
}

TEST(VertexNumbers, OfAUnionGoFromOneToTheOther) {
    Valued v(making::balls(2, 1.5), "united", "i");
    v.b.set(v.made, "voxel", {0.03});
    const auto numbers = v.numbers();
    const Mesh mesh = v.backdrop().meshes->mesh();
    int left = 0, right = 0;
    for (std::size_t k = 0; k < numbers.size(); ++k) {
        EXPECT_GE(numbers[k], 0);
        EXPECT_LE(numbers[k], 1);
        const float x = mesh.positions[k].x;
        if (std::abs(x) < 0.1f) continue;
        EXPECT_EQ(numbers[k], x > 0 ? 1 : 0);
        (x > 0 ? right : left) += 1;
    }
    EXPECT_GT(std::min(left, right), 100);
}

TEST(VertexNumbers, MixMaterialsOverTheSurface) {
    Valued v(onCorners("card"), "membrane", "i/3");
    v.mixByValue();
    const Backdrop backdrop = v.backdrop();
    const Mesh& mesh = backdrop.meshes->mesh();
    LookedAt at;
    at.mesh = &mesh;
    for (const auto& [b, c] : {std::pair{0.0f, 0.0f}, {1.0f, 0.0f}, {0.25f, 0.25f}}) {
        at.b = b, at.c = c;
        const std::uint32_t* corner = mesh.triangles.data();
        const auto& numbers = mesh.numbers[0].numbers;
        const float expected = numbers[corner[0]] * (1 - b - c) + numbers[corner[1]] * b + numbers[corner[2]] * c;
        EXPECT_NEAR(materialAt(backdrop.look, at).metal, expected, 1e-6f);
    }
    EXPECT_TRUE(differsOverSurface(*backdrop.look.mix));
    // Called differently it is still the same value.
    v.b.scene = rename(v.b.scene, v.value, "Warmth").scene;
    const Backdrop renamed = v.backdrop();
    at.mesh = &renamed.meshes->mesh();
    EXPECT_EQ(renamed.meshes->mesh().numbers.at(0).name, "Warmth");
    EXPECT_NEAR(materialAt(renamed.look, at).metal,
                materialAt(backdrop.look,
                           [&] {
                               LookedAt before = at;
                               before.mesh = &mesh;
                               return before;
                           }())
                    .metal,
                1e-6f);
    // A mesh without the value has nothing of the second material.
    const auto result = v.b.result();
    at.mesh = &result->variants.front().meshes->mesh();
    EXPECT_EQ(materialAt(backdrop.look, at).metal, 0);
}

TEST(VertexNumbers, ComeToWhatStandsOnTheMesh) {
    const Valued v(onCorners("card"), "membrane", "i/3");
    for (const char* formation : {"elements", "randomOnMesh", "evenlySpaced"}) {
        Build b = v.b;
        const Edit other = addSwarm(b.scene);
        const Edit named = addNamedValue(other.scene, other.made, "Heat");
        b.scene = rename(named.scene, named.made, "Heat").scene;
        b.swarm = other.made;
        b.formation = b.scene.at(b.swarm).list("formations").front();
        b.formationKind(formation).set(b.formation, "shape", Value(v.made));
        if (std::string(formation) == "elements") b.choose(b.formation, "element", "corners");
        const Mesh mesh = v.backdrop().meshes->mesh();
        const auto& numbers = mesh.numbers[0].numbers;
        const auto rows = b.rows();
        ASSERT_GE(rows.size(), 4u) << formation;
        for (const auto& row : rows) {
            // Over the two triangles of a card the value is what one of them says there.
            float best = 1e9f;
            for (std::uint32_t t = 0; t < 2; ++t) {
                const std::uint32_t* k = &mesh.triangles[3 * t];
                const vec3 a = mesh.positions[k[0]], u = mesh.positions[k[1]] - a, w = mesh.positions[k[2]] - a, p = row.position - a;
                const float uu = glm::dot(u, u), uw = glm::dot(u, w), ww = glm::dot(w, w), pu = glm::dot(p, u), pw = glm::dot(p, w);
                const float share = (pu * ww - pw * uw) / (uu * ww - uw * uw), other_ = (pw * uu - pu * uw) / (uu * ww - uw * uw);
                if (share < -1e-4f || other_ < -1e-4f || share + other_ > 1.0001f) continue;
                const float there = numbers[k[0]] * (1 - share - other_) + numbers[k[1]] * share + numbers[k[2]] * other_;
                best = std::min(best, std::abs(there - row.named.at(0)));
            }
            EXPECT_LT(best, 1e-4f) << formation;
        }
    }
}

TEST(VertexNumbers, StandInTheFilesThatKnowVertices) {
    const Valued v(onCorners("card"), "membrane", "i/3");
    const auto numbers = v.numbers();
    const std::string ply = v.written(plyMeshExporter, "heat.ply", {{"encoding", std::string("text")}});
    EXPECT_NE(ply.find("property float Heat\n"), std::string::npos);
    const std::string gltf = v.written(gltfExporter, "heat.glb");
    EXPECT_NE(gltf.find("\"_HEAT\":"), std::string::npos);
    const std::string usd = v.written(usdExporter, "heat.usda");
    EXPECT_NE(usd.find("float[] primvars:Heat = [0, "), std::string::npos);
}
