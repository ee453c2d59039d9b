// The gesture equation against closed forms.
#include <gtest/gtest.h>

#include <glm/gtc/quaternion.hpp>

#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// The same turn, whichever sign the quaternion has.
void expectTurn(const glm::quat& a, const glm::quat& b, float tolerance = 2e-6f) { EXPECT_NEAR(std::abs(glm::dot(a, b)), 1, tolerance); }

glm::quat turns(float x, float y, float z) {
    return glm::angleAxis(z * making::degree, glm::vec3(0, 0, 1)) * glm::angleAxis(y * making::degree, glm::vec3(0, 1, 0)) *
           glm::angleAxis(x * making::degree, glm::vec3(1, 0, 0));
}

}  // namespace

TEST(Gesture, PositionByAddsInSwarmAxesAndScalesWithTheSwarm) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "positionAmount", {1, 2, 3}).set(g, "pattern-value", {0.5});
    b.set(b.swarm, "scale", {2}).set(b.swarm, "rotation", {0, 90, 0}).set(b.swarm, "position", {10, 0, 0});
    // Home −½ on X; plus (½, 1, 1½); scaled by 2; a quarter turn about Y takes (x, y, z) to (z, y, −x).
    making::expectNear(b.rows()[0].position, {10 + 3, 2, 0});
}

TEST(Gesture, WorldAxesAreInWorldMetresWhateverTheSwarmsScale) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "positionAxes", std::string("world")).set(g, "positionAmount", {1, 2, 3});
    b.set(b.swarm, "scale", {4}).set(b.swarm, "rotation", {30, 50, 70}).set(b.swarm, "position", {5, 6, 7});
    making::expectNear(b.rows()[0].position, {6, 8, 10});
}

TEST(Gesture, OwnAxesFollowWhatEarlierCardsTurned) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId turn = b.gesture(), move = b.gesture();
    b.set(turn, "rotation", true).set(turn, "rotationAmount", {0, 0, 90});
    b.set(move, "position", true).set(move, "positionAxes", std::string("own")).set(move, "positionAmount", {1, 0, 0});
    making::expectNear(b.rows()[0].position, {0, 1, 0});
}

TEST(Gesture, NormalAxesStayWithTheHome) {
    Build b;
    b.formationKind("goldenSpiral")
        .set(b.formation, "count", {50})
        .set(b.formation, "onto", std::string("dome"))
        .set(b.formation, "radius", {3});
    const auto homes = b.rows();
    const ObjectId turn = b.gesture(), move = b.gesture();
    b.set(turn, "rotation", true).set(turn, "rotationAmount", {40, 0, 90});
    b.set(move, "position", true).set(move, "positionAxes", std::string("normal")).set(move, "positionAmount", {0, 1, 0});
    const auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) making::expectNear(rows[i].position, homes[i].position * (4.0f / 3), 1e-4f);
}

TEST(Gesture, RotationByMultipliesAnglesAndKeepsWholeTurns) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "rotation", true).set(g, "rotationAmount", {720, 40, -60}).set(g, "pattern-value", {0.5});
    expectTurn(b.rows()[0].rotation, turns(360, 20, -30));
}

TEST(Gesture, RotationToGoesTheShorterWayAndPastItsEnd) {
    for (const double x : {0.0, 0.25, 1.0, 1.5}) {
        Build b = Build::grid(1, 1, 1);
        const ObjectId g = b.gesture();
        b.set(g, "rotation", true)
            .set(g, "rotationMode", std::string("to"))
            .set(g, "rotationAmount", {0, 270, 0})
            .set(g, "pattern-value", {x});
        expectTurn(b.rows()[0].rotation, turns(0, static_cast<float>(-90 * x), 0));
    }
}

TEST(Gesture, RotationToAtHalfATurnIsWellDefined) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "rotation", true)
        .set(g, "rotationMode", std::string("to"))
        .set(g, "rotationAmount", {0, 180, 0})
        .set(g, "pattern-value", {0.5});
    const glm::quat q = b.rows()[0].rotation;
    EXPECT_NEAR(glm::length(q), 1, 1e-5f);
    EXPECT_NEAR(std::abs(q.w), std::sqrt(0.5f), 1e-5f);
}

TEST(Gesture, ScaleByIsAFactorThatNeverTurnsNegative) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "scale", true).set(g, "scaleAmount", {1.5, 1, 0}).set(g, "pattern-value", {2});
    const auto row = b.rows()[0];
    making::expectNear(row.scale, {2, 1, 0});
    EXPECT_FALSE(row.shown);
}

TEST(Gesture, OvershootPassesAndAClipSaysWhatItCuts) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId g = b.gesture("number");
    b.set(g, "position", true).set(g, "shaped-outHigh", {2});
    EXPECT_NEAR(b.rows().back().position.y, 2, 1e-6f);
    EXPECT_EQ(b.result()->cards[0].clippedShaped, 0);
    b.set(g, "shaped-outHigh", {1}).set(g, "shaped-inHigh", {0.5}).set(g, "shaped-clip", true);
    EXPECT_NEAR(b.rows().back().position.y, 1, 1e-6f);
    EXPECT_EQ(b.result()->cards[0].clippedShaped, 5);  // numbers 5 … 9 lie above one half
}

TEST(Gesture, ASignedPatternEntersToAsZeroToOne) {
    Build b = Build::grid(4, 1, 4);
    const ObjectId g = b.gesture("random");
    b.set(g, "position", true)
        .set(g, "positionMode", std::string("to"))
        .set(g, "positionAmount", {0, 10, 0})
        .set(g, "pattern-sameOnAllAxes", true);
    for (const auto& row : b.rows()) {
        EXPECT_GE(row.position.y, 0);
        EXPECT_LE(row.position.y, 10);
    }
}

TEST(Gesture, ZonesCombineDownward) {
    Build b = Build::grid(41, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    const ObjectId slab = b.zone(g, "box"), cut = b.zone(g, "box"), times = b.zone(g, "box");
    b.set(slab, "size", {30, 4, 4}).set(slab, "softEdge", {0});
    b.set(cut, "size", {10, 4, 4}).set(cut, "softEdge", {0});
    b.set(times, "size", {20, 4, 4}).set(times, "softEdge", {0});
    const auto weave = b.scene.at(g).list("weave");
    b.set(weave[1], "amount", {75});
    b.set(weave[2], "operation", std::string("times")).set(weave[2], "amount", {50});
    for (const auto& row : b.rows()) {
        const float x = std::abs(row.position.x);
        const float wanted = (x < 15 ? 1.0f : 0.0f) * (x < 5 ? 0.25f : 1.0f) * (x < 10 ? 1.0f : 0.5f);
        EXPECT_NEAR(row.position.y, wanted, 1e-6f) << x;
    }
}

TEST(Gesture, AZoneActsInWorldMetresOnATurnedAndScaledSwarm) {
    Build b = Build::grid(9, 1, 1);
    b.set(b.swarm, "scale", {2}).set(b.swarm, "rotation", {0, 90, 0});
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    const ObjectId z = b.zone(g, "ball");
    b.set(z, "position", {0, 0, -8}).set(z, "radius", {3}).set(z, "softEdge", {0});
    const auto rows = b.rows();  // homes stand at z = 8 … −8 in steps of 2; the last two lie inside
    for (std::size_t i = 0; i < rows.size(); ++i) EXPECT_NEAR(rows[i].position.y, i >= 7 ? 2 : 0, 1e-5f) << i;
}

TEST(Gesture, StaggerShiftsKeyedStrength) {
    Build b = Build::grid(5, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).key(g, "strength", {{0, 0, Ease::linear}, {10, 100, Ease::linear}});
    b.set(g, "when-by", std::string("number")).set(g, "when-over", {20});
    for (const double frame : {0.0, 7.0, 12.5, 30.0}) {
        const auto rows = b.rows(frame);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const double own = frame - 5.0 * static_cast<double>(i);
            EXPECT_NEAR(rows[i].position.y, std::clamp(own / 10, 0.0, 1.0), 1e-5) << frame << " " << i;
        }
    }
}

TEST(Gesture, AStaggeredGestureReadsAMovingZoneAtItsOwnTime) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "when-by", std::string("number")).set(g, "when-over", {8}).set(g, "when-reversed", true);
    const ObjectId z = b.zone(g, "slab");
    // The only instance is late by all 8 frames. The slab falls one metre a frame.
    b.set(z, "thickness", {20}).set(z, "softEdge", {10}).key(z, "position", {{0, 0, Ease::linear}, {100, -100, Ease::linear}}, 1);
    for (const double frame : {8.0, 10.0, 12.5, 15.0}) {
        const double distance = frame - 8, x = std::clamp((10 - distance) / 10, 0.0, 1.0);
        EXPECT_NEAR(b.rows(frame)[0].position.y, x * x * (3 - 2 * x), 1e-5) << frame;
    }
}

TEST(Gesture, CurrentPlaceSeesEarlierCards) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId lift = b.gesture(), tint = b.gesture("alongAxis");
    b.set(lift, "position", true).set(lift, "positionAmount", {0, 0.5, 0});
    b.set(tint, "position", true)
        .set(tint, "positionAmount", {1, 0, 0})
        .set(tint, "pattern-axis", std::string("y"))
        .set(tint, "pattern-measure", std::string("metres"));
    EXPECT_NEAR(b.rows()[0].position.x, 0, 1e-6f);
    b.set(tint, "place", std::string("current"));
    EXPECT_NEAR(b.rows()[0].position.x, 0.5f, 1e-6f);
}

TEST(Gesture, ColourMixesInLinearLight) {
    Build b = Build::grid(1, 1, 1);
    b.set(b.material, "colour", {0, 0, 0, 1});
    const ObjectId g = b.gesture();
    b.set(g, "colour", true).set(g, "colourAmount", {1, 1, 1, 1}).set(g, "pattern-value", {0.5});
    EXPECT_NEAR(b.rows()[0].colour.x, srgbFromLinear(0.5), 1e-5);
    EXPECT_EQ(b.result()->columns->colour[0] & 255u, static_cast<unsigned>(srgbFromLinear(0.5) * 255 + 0.5));
}

TEST(Gesture, ARampIsReadByThePatternAndMixedByTheWeight) {
    Build b = Build::grid(3, 1, 1);
    b.set(b.material, "colour", {0, 0, 0, 1});
    const ObjectId g = b.gesture("number");
    b.set(g, "colour", true).set(g, "source", std::string("ramp")).set(g, "strength", {50});
    b.set(g, "ramp", Value(Ramp{{0, {1, 0, 0, 1}}, {0.5, {0, 1, 0, 1}}, {1, {0, 0, 1, 1}}}));
    const auto rows = b.rows();
    const auto half = static_cast<float>(srgbFromLinear(0.5));
    making::expectNear(glm::vec3(rows[0].colour), {half, 0, 0});
    making::expectNear(glm::vec3(rows[1].colour), {0, half, 0});
    making::expectNear(glm::vec3(rows[2].colour), {0, 0, half});
}

TEST(Gesture, TheFootStaysWhereItStandsWhileSizeChanges) {
    Build b = Build::grid(1, 1, 1);
    b.set(b.stock, "foot", std::string("base")).set(b.shape, "size", {1, 2, 1});
    const ObjectId g = b.gesture();
    b.set(g, "scale", true).set(g, "scaleAmount", {3, 3, 3});
    const auto result = b.result();
    const float* m = result->columns->matrix.data();
    EXPECT_NEAR(m[5] * -1 + m[7], 0, 1e-6f);  // the box's base, one metre under its middle, stays at 0
    EXPECT_NEAR(m[5] * 1 + m[7], 6, 1e-6f);
}
