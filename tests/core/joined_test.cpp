// Shapes made of all that a swarm shows: joined as it is, and united to one volume.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

#include "core/arrange/symmetry_edits.h"
#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/picture/draw_list.h"
#include "core/resolve/resolve.h"
#include "core/shape/inside.h"
#include "core/shape/joined_mesh.h"
#include "core/shape/topology.h"
#include "core/symmetry/symmetry_kind.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using glm::mat4;
using glm::vec3;
using making::Build;

namespace {

/// A shape of a kind made of the swarm, as it is seen in its place.
struct Made {
    Build b;
    ObjectId made;

    Made(Build from, const char* kind) : b(std::move(from)) {
        const Edit edit = addShape(b.scene, *findKind(Family::shape, kind));
        b.scene = edit.scene;
        made = edit.made;
    }
    Backdrop backdrop(double frame = 0) const {
        const auto result = b.result(frame);
        for (const Backdrop& backdrop : result->backdrops)
            if (backdrop.shape == made) return backdrop;
        ADD_FAILURE() << (result->notes.empty() ? "it is not there" : result->notes.back());
        return {};
    }
    Mesh mesh(double frame = 0) const { return backdrop(frame).meshes->mesh(); }
    std::string sentence() const {
        const auto result = b.result();
        return result->notes.empty() ? "" : result->notes.back();
    }
};

/// Fine balls of radius 0.4 along X, so many radii apart.
Build balls(int count, double apart) {
    Build b = Build::grid(count, 1, 1);
    b.set(b.formation, "spacing", {0.4 * apart, 1, 1});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "geodesicBall")).scene;
    b.set(b.shape, "radius", {0.4}).set(b.shape, "frequency", {12});
    return b;
}

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

TEST(Joined, IsWhatTheSwarmShows) {
    const Made m(Build::grid(3, 2, 1), "joined");
    const Mesh mesh = m.mesh();
    const auto result = m.b.result();
    const Mesh& box = result->variants[0].meshes->mesh();
    ASSERT_EQ(mesh.positions.size(), 6 * box.positions.size());
    EXPECT_EQ(mesh.faceCount(), 6 * box.faceCount());
    making::expectSound(mesh, "six boxes");
    EXPECT_NEAR(making::signedVolume(mesh), 6 * making::signedVolume(box) * std::pow(result->variants[0].size, 3), 1e-5);
    for (std::uint32_t row = 0; row < 6; ++row) {
        const glm::vec3 corner(matrixOf(*result, row) * glm::vec4(box.positions[5], 1));
        making::expectNear(mesh.positions[row * box.positions.size() + 5], corner);
        EXPECT_EQ(mesh.colours[row * box.positions.size()], linearColour(result->columns->colour[row]));
    }
    EXPECT_FALSE(result->shown) << "it is seen in its place";
    EXPECT_TRUE(m.backdrop().alone);
}

TEST(Joined, HasTheCopiesBySymmetryOnceAndTheirOutsideOutside) {
    Build b = Build::grid(2, 1, 1);
    b.scene = addSymmetry(b.scene, b.swarm, mirroredSymmetry, nullptr).scene;
    const std::size_t copies = b.result()->copies.size();
    ASSERT_EQ(copies, 2u);
    const Made m(b, "joined");
    const auto result = m.b.result();
    const Mesh mesh = m.mesh();
    EXPECT_EQ(mesh.positions.size(), 2 * copies * result->variants[0].meshes->mesh().positions.size());
    making::expectSound(mesh, "mirrored");
    making::expectClosed(mesh, "mirrored");
    EXPECT_EQ(drawListOf(std::array{result}).surfaces.size(), 1u);
}

TEST(Joined, FollowsTheSwarmFrameByFrame) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId gesture = b.gesture("steady");
    b.set(gesture, "position", Value(true)).choose(gesture, "positionAxes", "swarm").key(gesture, "positionAmount", {{0, 0}, {10, 2}}, 1);
    const Made m(b, "joined");
    const float low = boundsOf(m.mesh(0)).low.y;
    EXPECT_NEAR(boundsOf(m.mesh(5)).low.y - low, 1, 1e-5f);
    EXPECT_NEAR(boundsOf(m.mesh(10)).low.y - low, 2, 1e-5f);
}

TEST(Joined, CanBeGroundStockAndCarried) {
    const Made m(Build::grid(2, 1, 1), "joined");
    Build b = m.b;
    const Edit other = addSwarmOf(b.scene, m.made);
    b.scene = other.scene;
    b.swarm = other.made;
    b.formation = b.scene.at(b.swarm).list("formations").front();
    EXPECT_EQ(b.result()->variants[0].meshes->mesh().positions.size(), m.mesh().positions.size());
    b.formationKind("elements").set(b.formation, "shape", Value(m.made)).choose(b.formation, "element", "corners");
    b.set(b.scene.at(b.swarm).list("stock").front(), "shape", Value(b.shape));
    EXPECT_EQ(static_cast<std::size_t>(b.result()->count), topologyOf(m.mesh()).places.size());
    // On its own swarm it can't stand.
    EXPECT_THROW(setValue(b.scene, addressOf(b.scene, m.b.stock, "shape"), Value(m.made)), Error);
}

TEST(Joined, RefusesMoreTrianglesThanMayBe) {
    Build b = balls(1, 2);
    b.set(b.formation, "count", {100, 100, 1}).set(b.shape, "frequency", {20});
    const Made m(b, "joined");
    EXPECT_NE(m.sentence().find("more than the limit of 20000000"), std::string::npos) << m.sentence();
}

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
    Made m(balls(2, 1.2), "united");
    const Backdrop seen = m.backdrop();
    EXPECT_NE(seen.meshes->note.find("Voxels of 3 cm"), std::string::npos) << seen.meshes->note;
    EXPECT_NE(seen.meshes->note.find("MB"), std::string::npos) << seen.meshes->note;
    m.b.set(m.made, "voxel", {0.0001});
    EXPECT_NE(m.sentence().find("more than the limit of 2 GB; make them"), std::string::npos) << m.sentence();
}

TEST(United, RefusesWhatIsOpen) {
    Build b = Build::grid(2, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    const Made m(b, "united");
    EXPECT_NE(m.sentence().find("is open and has no inside"), std::string::npos) << m.sentence();
}

TEST(United, IsTheSameOnAnyThreads) {
    Made m(balls(3, 1.2), "united");
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
