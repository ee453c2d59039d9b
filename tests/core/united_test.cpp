// Unions: all closed shapes that a swarm shows as one volume.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/file/project_file.h"
#include "core/gesture/gesture_kind.h"
#include "core/prepare/carried.h"
#include "core/shape/topology.h"
#include "tests/core/made_of_swarm.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using glm::mat4;
using glm::vec3;
using making::balls, making::MadeOfSwarm;
using making::Build;

namespace {

ShapeSource showing(const StandingShapes& shapes) {
    ShapeSource source;
    source.shown = [shapes](ObjectId) { return std::make_shared<const SwarmShown>(SwarmShown{shapes, {}}); };
    return source;
}

StandingShapes twoBalls(float apart) {
    const auto ball = std::make_shared<const ShapeMeshes>(making::shape("geodesicBall", {{"radius", {1}}, {"frequency", {24}}}));
    return {{ball, glm::translate(mat4(1), vec3(-apart / 2, 0, 0)), {1, 0, 0, 1}},
            {ball, glm::translate(mat4(1), vec3(apart / 2, 0, 0)), {0, 0, 1, 1}}};
}

/// Any swarm: the source gives the same for every one.
const making::Chosen ofSome{{"swarm", toText(ObjectId{static_cast<std::uint64_t>(ObjectType::swarm) << 56 | 1})}};

making::Numbered united(double voxel, double blend) { return {{"voxel", {voxel}}, {"blend", {blend}}}; }

/// From the surface of two balls of radius 1, nearest first.
float fromTwoBalls(const vec3& p, float apart) {
    return std::min(glm::length(p - vec3(apart / 2, 0, 0)), glm::length(p + vec3(apart / 2, 0, 0))) - 1;
}

}  // namespace

TEST(United, OfOneBallIsTheBall) {
    auto shapes = twoBalls(0);
    shapes.pop_back();
    const Mesh mesh = making::mesh("united", united(0.05, 0), ofSome, showing(shapes));
    making::expectClosed(mesh, "ball");
    making::expectSound(mesh, "ball");
    for (const vec3& p : mesh.positions) EXPECT_NEAR(glm::length(p), 1, 0.025f);
    EXPECT_NEAR(making::signedVolume(mesh), 4.18879, 0.02);
    for (const glm::vec4& c : mesh.colours) EXPECT_EQ(c, glm::vec4(1, 0, 0, 1));
}

TEST(United, OfTwoBallsIsWithinHalfAVoxelOfTheExactOne) {
    constexpr float apart = 1.2f, voxel = 0.04f;
    const Mesh mesh = making::mesh("united", united(voxel, 0), ofSome, showing(twoBalls(apart)));
    making::expectClosed(mesh, "two balls");
    float most = 0;
    for (const vec3& p : mesh.positions) most = std::max(most, std::abs(fromTwoBalls(p, apart)));
    EXPECT_LT(most, voxel / 2);
    // Two balls less the lens that they share.
    const double h = 1 - apart / 2, lens = 2 * 3.14159265 * h * h * (3 - h) / 3;
    EXPECT_NEAR(making::signedVolume(mesh), 2 * 4.18879 - lens, 0.02);
}

TEST(United, BlendsWithTheRadius) {
    constexpr float apart = 1.6f, voxel = 0.06f, radius = 0.3f;
    const Mesh mesh = making::mesh("united", united(voxel, radius), ofSome, showing(twoBalls(apart)));
    making::expectClosed(mesh, "blended");
    // A ball of the radius that touches both stands at this distance from the line between them: its near side is the waist.
    const float away = std::sqrt((1 + radius) * (1 + radius) - apart * apart / 4);
    float waist = 1e9f;
    for (const vec3& p : mesh.positions) {
        if (std::abs(p.x) < voxel) waist = std::min(waist, std::hypot(p.y, p.z));
        EXPECT_GT(fromTwoBalls(p, apart), -voxel) << "nothing is taken away";
    }
    EXPECT_NEAR(waist, away - radius, voxel);
    // Far from where they meet nothing changes.
    EXPECT_NEAR(boundsOf(mesh).size().x, 2 + apart, voxel);
    bool mixed = false;
    for (const glm::vec4& c : mesh.colours) mixed = mixed || (c.x > 0.2f && c.z > 0.2f);
    EXPECT_TRUE(mixed) << "colours go over into each other";
}

TEST(United, TellsItsVoxelsAndRefusesTooMany) {
    MadeOfSwarm m(balls(2, 1.2), "united");
    const Backdrop seen = m.backdrop();
    EXPECT_NE(seen.meshes->note.find("Voxels of 3 cm"), std::string::npos) << seen.meshes->note;
    EXPECT_NE(seen.meshes->note.find("MB"), std::string::npos) << seen.meshes->note;
    m.b.set(m.made, "voxel", {0.0001});
    EXPECT_NE(m.sentence().find("more than the limit of 2 GB; make them"), std::string::npos) << m.sentence();
}

TEST(United, RefusesWhatIsOpen) {
    Build b = Build::grid(2, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    const MadeOfSwarm m(b, "united");
    EXPECT_NE(m.sentence().find("is open and has no inside"), std::string::npos) << m.sentence();
}

TEST(United, IsTheSameOnAnyThreads) {
    MadeOfSwarm m(balls(3, 1.2), "united");
    m.b.set(m.made, "voxel", {0.06});
    const auto one = m.b.result(0, 1), two = m.b.result(0, 2);
    const auto& a = one->backdrops.back().meshes->mesh();
    const auto& c = two->backdrops.back().meshes->mesh();
    EXPECT_EQ(a.positions, c.positions);
    EXPECT_EQ(a.triangles, c.triangles);
    EXPECT_EQ(a.colours, c.colours);
}

TEST(United, SimplerHasFewerFacesAndStaysClosed) {
    const StandingShapes box{{std::make_shared<const ShapeMeshes>(making::shape("box")), mat4(1), glm::vec4(1)}};
    const Mesh fine = making::mesh("united", united(0.05, 0), ofSome, showing(box));
    auto numbers = united(0.05, 0);
    numbers.push_back({"simpler", {60}});
    const Mesh coarse = making::mesh("united", numbers, ofSome, showing(box));
    EXPECT_LT(coarse.triangleCount(), fine.triangleCount() / 4);
    making::expectClosed(coarse, "simpler");
}

TEST(United, IsClosedForEveryClosedShapeOfTheDemos) {
    int united_ = 0;
    for (const auto& file : std::filesystem::directory_iterator(GSWARM_SOURCE "/demo")) {
        if (file.path().extension() != ".gswarm") continue;
        const Scene scene = loadProject(file.path());
        PlanOptions options;
        options.projectFolder = GSWARM_SOURCE "/demo";
        Progress progress;
        Shapes shapes = shapesAt(scene, 0, options, making::store(), progress);
        for (const ObjectId id : scene.all(ObjectType::shape)) {
            const std::string what = file.path().stem().string() + ": " + scene.at(id).name;
            const auto meshes = shapes.get(id);
            if (meshes->mesh().triangles.empty() || !topologyOf(meshes->mesh()).closed()) continue;
            // Askew, so that no face lies along the voxels; a third of its least thickness, but not too many.
            const vec3 size = meshes->bounds.size();
            const double voxel = std::clamp(std::min({size.x, size.y, size.z}) / 3.0, std::max({size.x, size.y, size.z}) / 80.0,
                                            std::max({size.x, size.y, size.z}) / 24.0);
            const mat4 askew = glm::rotate(mat4(1), 0.7f, glm::normalize(vec3(1, 2, 3)));
            const Mesh mesh = making::mesh("united", united(voxel, 0), ofSome, showing({{meshes, askew}}));
            making::expectClosed(mesh, what);
            making::expectSound(mesh, what);
            ++united_;
        }
    }
    EXPECT_GE(united_, 20);
}

TEST(United, IsAnObstacleAndIsStoodOnWhereItsSurfaceIs) {
    MadeOfSwarm m(balls(2, 1.2), "united");
    m.b.set(m.made, "voxel", {0.02}).set(m.made, "blend", {0});
    Build b = m.b;
    const Edit other = addSwarm(b.scene);
    b.scene = other.scene;
    b.swarm = other.made;
    b.formation = b.scene.at(b.swarm).list("formations").front();
    b.formationKind("grid").set(b.formation, "count", {5, 1, 3}).set(b.formation, "spacing", {0.1, 1, 0.1});
    const ObjectId press = b.gesture();
    b.scene = setKind(b.scene, press, "change", pressGesture).scene;
    b.set(press, "against", Value(m.made)).choose(press, "along", "y").set(press, "reach", {5});
    const auto two = m.b.rows();
    for (const auto& row : b.rows()) {
        double top = -1;
        for (const auto& ball : two) {
            const vec3 away = row.position - ball.position;
            top = std::max(top, double(ball.position.y) + std::sqrt(0.16 - away.x * away.x - away.z * away.z));
        }
        EXPECT_NEAR(row.position.y, top, 0.015);
    }
    // Stood on.
    b.set(b.scene.at(press).id, "strength", {0});
    b.formationKind("randomOnMesh").set(b.formation, "shape", Value(m.made)).set(b.formation, "count", {200});
    const auto standing = b.rows();
    EXPECT_EQ(standing.size(), 200u);
    for (const auto& row : standing) {
        const float off = std::min(glm::distance(row.position, two[0].position), glm::distance(row.position, two[1].position)) - 0.4f;
        EXPECT_LT(std::abs(off), 0.01f);
    }
}

TEST(United, IsExportedAsAnyMesh) {
    MadeOfSwarm m(balls(2, 1.2), "united");
    m.b.set(m.made, "voxel", {0.08});
    Evaluator evaluator;
    Progress progress;
    const auto path = making::temporaryFolder() / "union.ply";
    writeExport(standardPart(plyMeshExporter), {evaluator, m.b.scene, {}, 0, {0, 0}, m.b.swarm}, path, progress);
    EXPECT_NE(readFile(path, 1 << 26).find("element vertex " + std::to_string(m.mesh().positions.size()) + "\n"), std::string::npos);
}
