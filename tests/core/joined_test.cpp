// Shapes made of all that a swarm shows, joined as it is.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>

#include "core/arrange/symmetry_edits.h"
#include "core/base/error.h"
#include "core/picture/draw_list.h"
#include "core/shape/topology.h"
#include "core/symmetry/symmetry_kind.h"
#include "tests/core/made_of_swarm.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::balls, making::MadeOfSwarm;
using making::Build;

TEST(Joined, IsWhatTheSwarmShows) {
    const MadeOfSwarm m(Build::grid(3, 2, 1), "joined");
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
    const MadeOfSwarm m(b, "joined");
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
    const MadeOfSwarm m(b, "joined");
    const float low = boundsOf(m.mesh(0)).low.y;
    EXPECT_NEAR(boundsOf(m.mesh(5)).low.y - low, 1, 1e-5f);
    EXPECT_NEAR(boundsOf(m.mesh(10)).low.y - low, 2, 1e-5f);
}

TEST(Joined, CanBeGroundStockAndCarried) {
    const MadeOfSwarm m(Build::grid(2, 1, 1), "joined");
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
    const MadeOfSwarm m(b, "joined");
    EXPECT_NE(m.sentence().find("more than the limit of 20000000"), std::string::npos) << m.sentence();
}
