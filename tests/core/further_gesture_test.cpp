// Aim, make room, snap, stream, travel and smooth, and the further channels of a change, against closed forms.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <set>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/shape/shape_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

ObjectId add(Build& b, const Kind& kind, const char* pattern = "steady") {
    const Object made = standardObject(ObjectType::gesture, kind.label, {&kind, findKind(Family::pattern, pattern)});
    const Edit edit = addGesture(b.scene, b.swarm, made);
    b.scene = edit.scene;
    return edit.made;
}

glm::vec3 side(const InstanceRow& row, const glm::vec3& axis) { return row.rotation * axis; }

}  // namespace

// ---- aim

TEST(Aim, EverySideCanPointAtAThing) {
    const std::pair<const char*, glm::vec3> sides[] = {{"front", {0, 0, 1}}, {"back", {0, 0, -1}}, {"right", {1, 0, 0}},
                                                       {"left", {-1, 0, 0}}, {"top", {0, 1, 0}},   {"bottom", {0, -1, 0}}};
    for (const auto& [name, axis] : sides) {
        Build b = Build::grid(3, 2, 3);
        const ObjectId g = add(b, aimGesture), camera = b.scene.all(ObjectType::camera).front();
        b.set(camera, "position", {4, 9, -5}).set(g, "thing", Value(camera)).choose(g, "side", name);
        b.set(b.swarm, "rotation", {10, 40, 0}).set(b.swarm, "scale", {1.5});
        for (const auto& row : b.rows()) making::expectNear(side(row, axis), glm::normalize(glm::vec3(4, 9, -5) - row.position), 3e-6f);
    }
}

TEST(Aim, FrontStaysUprightAndHalfStrengthGoesHalfTheWay) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = add(b, aimGesture), camera = b.scene.all(ObjectType::camera).front();
    b.set(camera, "position", {5, 0, 0}).set(g, "thing", Value(camera));
    making::expectNear(side(b.rows()[0], {0, 0, 1}), {1, 0, 0});
    making::expectNear(side(b.rows()[0], {0, 1, 0}), {0, 1, 0});
    b.set(g, "strength", {50});
    making::expectNear(side(b.rows()[0], {0, 0, 1}), {std::sin(45 * making::degree), 0, std::cos(45 * making::degree)}, 3e-6f);
}

TEST(Aim, AlongTravelFollowsKeyedMovementAndLeavesWhatStandsStill) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId move = b.gesture(), g = add(b, aimGesture);
    b.set(move, "position", true).set(move, "positionAmount", {1, 0, 1});
    b.key(move, "strength", {{0, 0, Ease::linear}, {10, 100, Ease::linear}});
    b.choose(g, "at", "travel");
    for (const auto& row : b.rows(5)) making::expectNear(side(row, {0, 0, 1}), glm::normalize(glm::vec3(1, 0, 1)), 1e-4f);
    for (const auto& row : b.rows(40)) making::expectNear(side(row, {0, 0, 1}), {0, 0, 1});
}

TEST(Aim, UpTheSurfaceIsUphillOnADome) {
    Build b;
    b.formationKind("goldenSpiral").set(b.formation, "count", {60}).choose(b.formation, "onto", "dome").set(b.formation, "radius", {3});
    const auto homes = b.rows();
    const ObjectId g = add(b, aimGesture);
    b.choose(g, "at", "surface");
    const auto rows = b.rows();
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const glm::vec3 normal = making::up(homes[i]), uphill = glm::vec3(0, 1, 0) - normal * normal.y;
        if (glm::length(uphill) < 0.05f) continue;
        making::expectNear(side(rows[i], {0, 0, 1}), glm::normalize(uphill), 2e-4f);
    }
}

// ---- make room

TEST(MakeRoom, NoTwoStayNearerThanTheirSizes) {
    Build b = Build::grid(12, 1, 12);
    b.set(b.formation, "spacing", {0.8, 0.8, 0.8});
    const ObjectId scatter = b.gesture("random"), g = add(b, makeRoomGesture);
    b.set(scatter, "position", true).set(scatter, "positionAmount", {0.5, 0, 0.5});
    b.set(g, "rounds", {60}).set(g, "flat", true);
    const auto near = [](const std::vector<InstanceRow>& rows) {
        float least = 1e9f;
        for (std::size_t i = 0; i < rows.size(); ++i)
            for (std::size_t j = i + 1; j < rows.size(); ++j) least = std::min(least, glm::length(rows[i].position - rows[j].position));
        return least;
    };
    Build before = b;
    before.set(g, "strength", {0});
    EXPECT_LT(near(before.rows()), 0.4f);
    // A box of one metre counts as the ball of its largest side: no middle is nearer than that to another.
    EXPECT_GT(near(b.rows()), 0.99f);
    for (const auto& row : b.rows()) EXPECT_EQ(row.position.y, 0);  // flat
}

TEST(MakeRoom, WhatHasRoomStaysWhereItIs) {
    Build b = Build::grid(5, 1, 5);
    b.set(b.formation, "spacing", {3, 3, 3});
    const auto homes = b.rows();
    add(b, makeRoomGesture);
    const auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) EXPECT_EQ(rows[i].position, homes[i].position);
}

TEST(MakeRoom, SameBitsForAnyNumberOfThreads) {
    Build b = Build::grid(90, 1, 90);  // several times what one task takes
    b.set(b.formation, "spacing", {0.7, 0.7, 0.7});
    add(b, makeRoomGesture);
    add(b, smoothGesture);
    EXPECT_EQ(b.result(0, 1)->columns->matrix, b.result(0, 3)->columns->matrix);
}

// ---- snap

TEST(Snap, PlacesTurnsAndSizesGoToWholeSteps) {
    Build b = Build::grid(9, 1, 9);
    const ObjectId mess = b.gesture("random"), g = add(b, snapGesture);
    b.set(mess, "position", true).set(mess, "positionAmount", {1, 1, 1}).set(mess, "scale", true).set(mess, "scaleAmount", {3, 3, 3});
    b.set(mess, "rotation", true).set(mess, "rotationAmount", {0, 170, 0});
    Build raw = b;
    raw.set(g, "strength", {0});
    b.set(g, "step", {0.5, 0.25, 0}).set(g, "rotation", true).set(g, "angle", {30}).set(g, "scale", true).set(g, "sizeStep", {0.5});
    const auto before = raw.rows(), after = b.rows();
    for (std::size_t i = 0; i < after.size(); ++i) {
        EXPECT_NEAR(after[i].position.x, std::floor(before[i].position.x / 0.5f + 0.5f) * 0.5f, 1e-5f);
        EXPECT_NEAR(after[i].position.y, std::floor(before[i].position.y / 0.25f + 0.5f) * 0.25f, 1e-5f);
        EXPECT_NEAR(after[i].position.z, before[i].position.z, 1e-5f);  // a step of 0 leaves the axis
        EXPECT_NEAR(after[i].scale.x, std::floor(before[i].scale.x / 0.5f + 0.5f) * 0.5f, 1e-5f);
        const float turned = 2 * std::acos(std::min(1.0f, std::abs(after[i].rotation.w))) / making::degree;
        EXPECT_NEAR(turned / 30, std::round(turned / 30), 2e-3f);
    }
}

TEST(Snap, ToHomesTakesTheNearest) {
    Build b = Build::grid(6, 1, 6);
    b.scene = addFormationVersion(b.scene, b.swarm).scene;
    const auto versions = b.scene.at(b.swarm).list("formations");
    b.set(b.swarm, "formation", Value(versions[0]));
    b.set(versions[1], "count", {3, 1, 3}).set(versions[1], "spacing", {2, 2, 2});
    const auto homes = b.rows();
    const ObjectId g = add(b, snapGesture);
    b.choose(g, "to", "homes").set(g, "formation", Value(versions[1]));
    const auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        float least = 1e9f;
        for (const float x : {-2.0f, 0.0f, 2.0f})
            for (const float z : {-2.0f, 0.0f, 2.0f}) least = std::min(least, glm::length(glm::vec3(x, 0, z) - homes[i].position));
        EXPECT_NEAR(glm::length(rows[i].position - homes[i].position), least, 1e-5f);
        EXPECT_NEAR(std::fmod(std::abs(rows[i].position.x), 2.0f), 0, 1e-5f);
    }
}

// ---- stream

TEST(Stream, LapsCloseToTheBitAndStayInTheBox) {
    Build b = Build::grid(7, 1, 7);
    b.set(b.scene.project().id, "loopFrames", {40});
    const ObjectId g = add(b, streamGesture);
    b.set(g, "size", {8, 4, 8}).set(g, "laps", {2, 0, -1});
    const auto first = b.rows(0), again = b.rows(40), quarter = b.rows(10);
    for (std::size_t i = 0; i < first.size(); ++i) {
        EXPECT_EQ(first[i].position, again[i].position);
        EXPECT_GE(quarter[i].position.x, -4);
        EXPECT_LT(quarter[i].position.x, 4.0001f);
        // A quarter of two laps through 8 m is 4 m along X, and of one lap back 2 m along Z.
        const auto wrapped = [](float v) { return v - 8 * std::floor((v + 4) / 8); };
        EXPECT_NEAR(quarter[i].position.x, wrapped(first[i].position.x + 4), 1e-5f);
        EXPECT_NEAR(quarter[i].position.z, wrapped(first[i].position.z - 2), 1e-5f);
    }
}

TEST(Stream, NearItsSidesInstancesShrinkOverTheFade) {
    Build b = Build::grid(9, 1, 1);
    const ObjectId g = add(b, streamGesture);
    b.choose(g, "motion", "still").set(g, "size", {10, 10, 10}).set(g, "fade", {4}).set(g, "alongZ", false);
    for (const auto& row : b.rows()) {
        const float t = std::min((5 - std::abs(row.position.x)) / 4, 1.0f);
        EXPECT_NEAR(row.scale.x, t * t * (3 - 2 * t), 1e-5f) << row.position.x;
    }
}

// ---- travel

TEST(Travel, TakesEachToAHomeOfItsOwnThere) {
    Build b = Build::grid(8, 1, 1);
    b.scene = addFormationVersion(b.scene, b.swarm).scene;
    const auto versions = b.scene.at(b.swarm).list("formations");
    b.set(b.swarm, "formation", Value(versions[0]));
    b.set(versions[1], "count", {1, 1, 8}).set(versions[1], "spacing", {2, 2, 2});
    const auto homes = b.rows();
    const ObjectId g = add(b, travelGesture);
    b.set(g, "formation", Value(versions[1])).set(g, "arch", {3});
    const auto there = b.rows();
    for (std::size_t i = 0; i < 8; ++i) making::expectNear(there[i].position, {0, 0, -7.0f + 2 * static_cast<float>(i)});
    b.set(g, "strength", {50});
    const auto halfway = b.rows();
    for (std::size_t i = 0; i < 8; ++i)
        making::expectNear(halfway[i].position, (homes[i].position + there[i].position) * 0.5f + glm::vec3(0, 3, 0));
}

TEST(Travel, DifferentCountsSpreadOverAllHomes) {
    Build b = Build::grid(10, 1, 1);
    b.scene = addFormationVersion(b.scene, b.swarm).scene;
    const auto versions = b.scene.at(b.swarm).list("formations");
    b.set(b.swarm, "formation", Value(versions[0]));
    b.set(versions[1], "count", {1, 1, 5});
    const ObjectId g = add(b, travelGesture);
    b.set(g, "formation", Value(versions[1]));
    std::map<float, int> taken;
    for (const auto& row : b.rows()) ++taken[row.position.z];
    ASSERT_EQ(taken.size(), 5u);
    for (const auto& [z, count] : taken) EXPECT_EQ(count, 2) << z;
}

// ---- smooth

TEST(Smooth, IsTheWeightedMeanOfTheNeighbours) {
    Build b = Build::grid(5, 1, 1);
    const ObjectId big = b.gesture(), g = add(b, smoothGesture);
    b.set(big, "scale", true).set(big, "scaleAmount", {3, 3, 3});
    const ObjectId z = b.zone(big, "ball");
    b.set(z, "radius", {0.5}).set(z, "softEdge", {0});
    b.set(g, "reach", {1.5}).set(g, "colour", false);
    const auto rows = b.rows();
    const float w = 1 - 1 / 1.5f;  // a neighbour one metre away
    EXPECT_NEAR(rows[2].scale.x, (3 + 2 * w) / (1 + 2 * w), 1e-5f);
    EXPECT_NEAR(rows[1].scale.x, (1 + w * 3 + w * 1) / (1 + 2 * w), 1e-5f);
    EXPECT_NEAR(rows[0].scale.x, 1, 1e-6f);
}

// ---- further channels of a change

TEST(Change, RotatesAboutAnAxisOfEachInstance) {
    Build b;
    b.formationKind("goldenSpiral").set(b.formation, "count", {40}).choose(b.formation, "onto", "dome").set(b.formation, "radius", {2});
    const auto homes = b.rows();
    const ObjectId g = b.gesture();
    b.set(g, "rotation", true).choose(g, "turnAbout", "across").set(g, "rotationAngle", {90});
    const auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const glm::vec3 normal = making::up(homes[i]), axis = glm::cross(glm::vec3(0, 1, 0), normal);
        if (glm::length(axis) < 0.05f) continue;
        // A quarter turn across normal and up leads from the normal down along the surface.
        making::expectNear(making::up(rows[i]), glm::angleAxis(90 * making::degree, glm::normalize(axis)) * normal, 1e-4f);
    }
    b.choose(g, "turnAbout", "normal");
    const auto about = b.rows();
    for (std::size_t i = 0; i < about.size(); ++i) making::expectNear(making::up(about[i]), making::up(homes[i]), 1e-4f);
}

TEST(Change, ToATurnGoesOnPastTheWholeWay) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "rotation", true).choose(g, "rotationMode", "to").set(g, "rotationAmount", {0, 60, 0}).set(g, "strength", {150});
    making::expectNear(side(b.rows()[0], {0, 0, 1}), {std::sin(90 * making::degree), 0, std::cos(90 * making::degree)}, 1e-5f);
    b.set(g, "strength", {-50});
    making::expectNear(side(b.rows()[0], {0, 0, 1}), {-std::sin(30 * making::degree), 0, std::cos(30 * making::degree)}, 1e-5f);
}

TEST(Change, ElsewhereValuesStandWhereTheWeightIsNothing) {
    Build b = Build::grid(21, 1, 1);
    const ObjectId g = b.gesture(), z = b.zone(g, "ball");
    b.set(z, "radius", {5}).set(z, "softEdge", {5});
    b.set(g, "scale", true)
        .set(g, "scaleAmount", {1.6, 1.6, 1.6})
        .set(g, "scaleHasElsewhere", true)
        .set(g, "scaleElsewhere", {0.8, 0.8, 0.8});
    for (const auto& row : b.rows()) {
        const float t = std::clamp((5 - std::abs(row.position.x)) / 5, 0.0f, 1.0f), w = t * t * (3 - 2 * t);
        EXPECT_NEAR(row.scale.x, 0.8f + (1.6f - 0.8f) * w, 1e-5f) << row.position.x;
    }
    EXPECT_EQ(b.result()->cards[0].touched, 21);
}

TEST(Change, ShapeIsPickedFromTheStock) {
    Build b = Build::grid(10, 1, 1);
    const Edit ball = addShape(b.scene, ballShape);
    b.scene = addStock(ball.scene, b.swarm, ball.made).scene;
    const auto stock = b.scene.at(b.swarm).list("stock");
    const ObjectId all = b.gesture(), g = b.gesture("alongAxis");
    b.set(all, "shape", true).choose(all, "shapeBy", "one").set(all, "shapeEntry", Value(stock[0]));
    for (const auto& row : b.rows()) EXPECT_EQ(row.shape, "Box");
    b.set(g, "shape", true);
    for (const auto& row : b.rows()) EXPECT_EQ(row.shape, row.number < 5 ? "Box" : "Ball") << row.number;
    b.scene = remove(b.scene, stock[0]).scene;
    EXPECT_FALSE(b.result()->cards[0].waits.empty());
}

TEST(Change, HidesAndShowsAgain) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId hide = b.gesture("number"), show = b.gesture("number");
    b.set(hide, "showing", true);
    EXPECT_EQ(b.result()->visible, 5);
    b.set(show, "showing", true).choose(show, "showingAs", "show").set(show, "shaped-inHigh", {2});
    EXPECT_EQ(b.result()->visible, 6);  // only the last reaches a half of it
}

TEST(Change, ATimeShiftMovesWhatComesLater) {
    Build b = Build::grid(5, 1, 1);
    const ObjectId shift = b.gesture("number"), move = b.gesture();
    b.set(shift, "time", true).set(shift, "timeAmount", {-8});
    b.set(move, "position", true).set(move, "positionAmount", {0, 1, 0});
    b.key(move, "strength", {{0, 0, Ease::linear}, {10, 100, Ease::linear}});
    for (const auto& row : b.rows(9)) EXPECT_NEAR(row.position.y, (9 - 2.0f * static_cast<float>(row.number)) / 10, 1e-5f);
}

TEST(Change, NamedValuesReachLaterGesturesFormulasAndColours) {
    Build b = Build::grid(6, 1, 1);
    b.scene = addNamedValue(b.scene, b.swarm, "glow").scene;
    const ObjectId glow = b.scene.at(b.swarm).list("namedValues").front();
    b.set(glow, "standard", {0.25});
    const ObjectId write = b.gesture("number"), read = b.gesture("namedValue"), formula = b.gesture("formula"),
                   paint = b.gesture("namedValue");
    b.set(write, "value", true).set(write, "valueOf", Value(glow)).set(write, "valueAmount", {2});
    b.set(read, "position", true).set(read, "positionAmount", {0, 1, 0}).set(read, "pattern-value", Value(glow));
    b.set(formula, "position", true)
        .set(formula, "positionAmount", {0, 0, 1})
        .set(formula, "pattern-value", Value(Formula{"glow * 2", {{"glow", toText(glow) + "/standard"}}}));
    b.set(paint, "colour", true).set(paint, "pattern-value", Value(glow)).set(paint, "colourAmount", {1, 1, 1, 1});
    for (const auto& row : b.rows()) {
        const float value = 0.25f + 2 * static_cast<float>(row.number) / 5;
        EXPECT_NEAR(row.named[0], value, 1e-6f);
        EXPECT_NEAR(row.position.y, value, 1e-6f);
        EXPECT_NEAR(row.position.z, 2 * value, 1e-6f);
    }
    b.choose(write, "valueMode", "to").set(write, "valueAmount", {5}).set(write, "strength", {50});
    EXPECT_NEAR(b.rows()[5].named[0], (0.25f + 5) / 2, 1e-6f);
    for (std::size_t k = 1; k < mostNamedValues; ++k) b.scene = addNamedValue(b.scene, b.swarm, "more").scene;
    EXPECT_THROW(addNamedValue(b.scene, b.swarm, "more"), Error);
}

// ---- patterns

TEST(Distance, GrowsAwayFromACurveASurfacePointsAndASwarm) {
    Build b = Build::grid(9, 3, 9);
    const auto homes = b.rows();
    const Edit line = addShape(b.scene, lineShape);
    b.scene = line.scene;
    b.set(line.made, "from", {-2, 0, 0}).set(line.made, "to", {2, 0, 0});
    const ObjectId g = b.gesture("distance");
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0});
    b.choose(g, "pattern-as", "metres").choose(g, "pattern-to", "curve").set(g, "pattern-shape", Value(line.made));
    const auto toLine = [](const glm::vec3& p) { return glm::length(p - glm::vec3(std::clamp(p.x, -2.0f, 2.0f), 0, 0)); };
    auto rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) ASSERT_NEAR(rows[i].position.y - homes[i].position.y, toLine(homes[i].position), 1e-5f);
    b.choose(g, "pattern-as", "share").set(g, "pattern-reach", {3});
    rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i)
        ASSERT_NEAR(rows[i].position.y - homes[i].position.y, std::min(toLine(homes[i].position) / 3, 1.0f), 1e-5f);
    Edit other = addSwarm(b.scene);
    b.scene = other.scene;
    b.set(b.scene.at(other.made).list("formations").front(), "count", {1, 1, 1}).set(other.made, "position", {0, 5, 0});
    b.choose(g, "pattern-to", "swarm")
        .set(g, "pattern-swarm", Value(other.made))
        .choose(g, "pattern-as", "capped")
        .set(g, "pattern-reach", {4});
    rows = b.rows();
    for (std::size_t i = 0; i < rows.size(); ++i)
        ASSERT_NEAR(rows[i].position.y - homes[i].position.y, std::min(glm::length(homes[i].position - glm::vec3(0, 5, 0)), 4.0f), 1e-5f);
}

TEST(Random, BellShapedChanceHasTheMeanAndTheSpreadOfFourThrows) {
    Build b = Build::grid(200, 1, 200);
    const ObjectId g = b.gesture("random");
    b.set(g, "position", true)
        .set(g, "positionAmount", {0, 1, 0})
        .choose(g, "pattern-spread", "bell")
        .set(g, "pattern-from", {0})
        .set(g, "pattern-sameOnAllAxes", true);
    double sum = 0, square = 0;
    const auto rows = b.rows();
    for (const auto& row : rows) sum += row.position.y, square += double(row.position.y) * row.position.y;
    const double n = static_cast<double>(rows.size()), mean = sum / n;
    EXPECT_NEAR(mean, 0.5, 0.005);
    EXPECT_NEAR(square / n - mean * mean, 1.0 / 48, 0.001);  // a twelfth over four
}

TEST(Noise, EveryKindStaysInItsRangeUsesItAndLoops) {
    for (const char* form : {"gradient", "value", "ridged", "cellular"}) {
        Build b = Build::grid(60, 1, 60);
        b.set(b.scene.project().id, "loopFrames", {50});
        const ObjectId g = b.gesture("noise");
        b.set(g, "position", true)
            .set(g, "positionAmount", {0, 1, 0})
            .choose(g, "pattern-form", form)
            .set(g, "pattern-sameOnAllAxes", true);
        b.set(g, "pattern-octaves", {3});
        float least = 9, most = -9;
        const auto rows = b.rows(7), again = b.rows(57);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            least = std::min(least, rows[i].position.y), most = std::max(most, rows[i].position.y);
            ASSERT_NEAR(rows[i].position.y, again[i].position.y, 1e-5f) << form;
        }
        EXPECT_GE(least, -1) << form;
        EXPECT_LE(most, 1) << form;
        EXPECT_GT(most - least, 0.9f) << form;
        b.choose(g, "pattern-motion", "drift").set(g, "pattern-drift", {5, 0, 2});
        const auto drifted = b.rows(7), returned = b.rows(57);
        float apart = 0;
        for (std::size_t i = 0; i < rows.size(); ++i) {
            ASSERT_NEAR(drifted[i].position.y, returned[i].position.y, 1e-4f) << form;
            apart = std::max(apart, std::abs(drifted[i].position.y - b.rows(20)[i].position.y));
            if (i > 40) break;
        }
        EXPECT_GT(apart, 0.01f) << form;
    }
}
