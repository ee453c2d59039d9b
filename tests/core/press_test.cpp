// The gesture that takes instances to what they meet: closed forms against a ball, a box and other swarms' shapes.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/shape/ray_targets.h"
#include "core/shape/shape_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A flat grid of 9 × 9, half a metre apart, that is pressed against something above or below.
struct Pressing {
    Build b = Build::grid(9, 1, 9);
    ObjectId press, target;

    /// Against a shape that stands where the swarm does.
    explicit Pressing(const ShapeKind& kind) {
        b.set(b.formation, "spacing", {0.5, 0.5, 0.5});
        const Edit made = addShape(b.scene, kind);
        b.scene = made.scene;
        target = made.made;
        begin();
    }
    /// Against another swarm of one kind of shape.
    Pressing(const ShapeKind& kind, int count) {
        b.set(b.formation, "spacing", {0.5, 0.5, 0.5});
        const Edit shape = addShape(b.scene, kind), swarm = addSwarmOf(shape.scene, shape.made);
        b.scene = swarm.scene;
        target = swarm.made;
        const ObjectId formation = b.scene.at(target).list("formations").front();
        b.set(formation, "count", {double(count), 1, 1});
        begin();
    }
    void begin() {
        press = b.gesture();
        b.scene = setKind(b.scene, press, "change", pressGesture).scene;
        b.set(press, "against", Value(target)).choose(press, "along", "y").set(press, "reach", {5});
    }
    ObjectId named(const char* reference, const char* name) {
        const Edit made = addNamedValue(b.scene, b.swarm, name);
        b.scene = made.scene;
        b.set(press, reference, Value(made.made));
        return made.made;
    }
    std::vector<InstanceRow> rows(double frame = 0) const { return b.rows(frame); }
};

/// Height of a ball of the radius around (0, up, 0), below or above; nothing where it is passed by.
double ballAt(double x, double z, double up, double radius, bool above) {
    const double across = radius * radius - x * x - z * z;
    return across < 0 ? 0 : up + (above ? 1 : -1) * std::sqrt(across);
}

}  // namespace

TEST(Press, FromInsideABallEveryoneLandsOnItsSurface) {
    Pressing p(ballShape);
    p.b.set(p.target, "radius", {1.2}).set(p.target, "sides", {256}).set(p.target, "rings", {128});
    for (const InstanceRow& row : p.rows())
        EXPECT_NEAR(row.position.y, ballAt(row.position.x, row.position.z, 0, 1.2, true), 2e-3) << row.position.x << " " << row.position.z;
}

TEST(Press, StrengthGoesPartOfTheWayBeyondAndBackward) {
    for (const double strength : {0.0, 25.0, 100.0, 160.0, -50.0}) {
        Pressing p(boxShape);
        p.b.set(p.target, "size", {2.2, 2, 2.2}).set(p.press, "strength", {strength});
        for (const InstanceRow& row : p.rows()) {
            const bool above = std::abs(row.position.x) < 1.05 && std::abs(row.position.z) < 1.05;
            EXPECT_NEAR(row.position.y, above ? strength / 100 : 0, 1e-6) << strength;
        }
    }
}

TEST(Press, StaysOutsideByTheGapFromEitherSide) {
    Pressing p(boxShape);
    p.b.set(p.target, "size", {9, 2, 9}).set(p.press, "gap", {0.25});
    for (const InstanceRow& row : p.rows()) EXPECT_NEAR(row.position.y, 1.25, 1e-6) << "from within it goes out";
    const ObjectId lift = p.b.gesture();
    p.b.scene = moveInList(p.b.scene, p.b.scene.at(p.b.swarm).list("rail").back(), 0).scene;
    p.b.set(lift, "position", Value(true)).set(lift, "positionAmount", {0, -3, 0});
    for (const InstanceRow& row : p.rows()) EXPECT_NEAR(row.position.y, -1.25, 1e-6) << "from below it stays below";
}

TEST(Press, LooksBackwardToo) {
    Pressing p(boxShape);
    p.b.set(p.target, "size", {9, 1, 9});
    const ObjectId lift = p.b.gesture();
    p.b.scene = moveInList(p.b.scene, p.b.scene.at(p.b.swarm).list("rail").back(), 0).scene;
    p.b.set(lift, "position", Value(true)).set(lift, "positionAmount", {0, 2, 0});
    for (const InstanceRow& row : p.rows()) EXPECT_NEAR(row.position.y, 2, 1e-6) << "nothing is above";
    p.b.set(p.press, "bothWays", Value(true));
    for (const InstanceRow& row : p.rows()) EXPECT_NEAR(row.position.y, 0.5, 1e-6);
}

TEST(Press, TheLastSurfaceIsTheOutsideOfAll) {
    Pressing p(ballShape, 3);
    const ObjectId formation = p.b.scene.at(p.target).list("formations").front();
    p.b.set(formation, "spacing", {0.5, 1, 1});
    const auto heights = [&](const char* meets) {
        p.b.choose(p.press, "meets", meets);
        float most = 0;
        for (const InstanceRow& row : p.rows()) most = std::max(most, row.position.y);
        return most;
    };
    const float first = heights("first"), last = heights("last");
    EXPECT_NEAR(last, 1, 1e-3) << "they stand on their feet";
    EXPECT_LE(first, last + 1e-5);
}

TEST(Press, MeetsAnotherSwarmsShapesWhereTheyAreAtTheFrame) {
    Pressing p(boxShape, 1);
    p.b.set(p.target, "position", {0, 2, 0}).key(p.target, "position", {{0, 2}, {50, 4}}, 1);
    const float at0 = p.rows(0)[40].position.y, at50 = p.rows(50)[40].position.y;
    EXPECT_NEAR(at50 - at0, 2, 1e-5);
    EXPECT_GT(at0, 1);
}

TEST(Press, WorksInASwarmThatIsTurnedAndScaled) {
    Pressing p(boxShape);
    p.b.set(p.target, "size", {9, 2, 9});
    p.b.set(p.b.swarm, "position", {3, 1, -2}).set(p.b.swarm, "rotation", {40, 20, -70}).set(p.b.swarm, "scale", {2.5});
    // A shape stands where the swarm does, so that nothing changes in the swarm's own space.
    Pressing plain(boxShape);
    plain.b.set(plain.target, "size", {9, 2, 9});
    const auto turned = p.rows(), still = plain.rows();
    const glm::quat turn = p.b.plan().pose.rotation;
    for (std::size_t i = 0; i < turned.size(); ++i)
        making::expectNear(turned[i].position, vec3(3, 1, -2) + turn * (still[i].position * 2.5f), 2e-5f);
}

TEST(Press, TellsHowFarWhetherAndWhich) {
    Pressing p(boxShape, 3);
    const ObjectId formation = p.b.scene.at(p.target).list("formations").front();
    p.b.set(p.target, "position", {0, 3, 0}).set(formation, "spacing", {1.5, 1, 1});
    p.named("far", "how far"), p.named("met", "whether"), p.named("which", "bead");
    p.b.set(p.press, "strength", {50});
    int met = 0;
    for (const InstanceRow& row : p.rows()) {
        const float far = row.named[2], whether = row.named[3], which = row.named[4];  // behind those it began with
        EXPECT_NEAR(row.position.y, far, 1e-6);
        EXPECT_TRUE(whether == 0 || whether == 1);
        if (whether == 0) continue;
        ++met;
        // Three boxes a metre and a half apart: −1.5, 0 and 1.5.
        EXPECT_NEAR(which, std::round(row.position.x / 1.5f) / 2 + 0.5f, 1e-6) << row.position.x;
    }
    EXPECT_GT(met, 5);
    EXPECT_LT(met, 40);
}

TEST(Press, ItsOwnStaggerGoesByWhatItMet) {
    Pressing p(boxShape, 3);
    const ObjectId formation = p.b.scene.at(p.target).list("formations").front();
    p.b.set(p.target, "position", {0, 3, 0}).set(formation, "spacing", {1.5, 1, 1});
    const ObjectId which = p.named("which", "bead");
    p.b.key(p.press, "strength", {{0, 0}, {10, 100}});
    p.b.choose(p.press, "when-by", "value").set(p.press, "when-value", Value(which)).set(p.press, "when-over", {20});
    const auto full = p.rows(100);
    for (const InstanceRow& row : p.rows(15))
        if (const float bead = row.named[2]; row.position.y > 0) {
            const double share = std::clamp((15.0 - 20.0 * bead) / 10.0, 0.0, 1.0);
            EXPECT_GT(share, 0) << "those that meet the last bead have not begun";
            if (share == 1) {
                EXPECT_NEAR(row.position.y, full[static_cast<std::size_t>(row.number)].position.y, 1e-5);
            }
        }
    // By chance, but alike for all that met the same.
    p.b.choose(p.press, "when-by", "random").set(p.press, "when-together", Value(which));
    std::map<float, float> height;
    for (const InstanceRow& row : p.rows(12)) {
        if (std::abs(row.position.x - std::round(row.position.x / 1.5f) * 1.5f) > 0.4f || std::abs(row.position.z) > 0.4f) continue;
        const auto [found, fresh] = height.emplace(row.named[2], row.position.y);
        if (!fresh) {
            EXPECT_NEAR(found->second, row.position.y, 1e-6);
        }
    }
    EXPECT_EQ(height.size(), 3u);
}

TEST(Press, SwingsPastWithASpringAndSettles) {
    Pressing p(boxShape);
    p.b.set(p.target, "size", {9, 2, 9}).key(p.press, "strength", {{0, 0}, {1, 100}});
    p.b.choose(p.press, "follow-driven", "spring").set(p.press, "follow-frequency", {2}).set(p.press, "follow-damping", {0.2});
    float most = 0;
    for (int frame = 0; frame < 40; ++frame) most = std::max(most, p.rows(frame)[40].position.y);
    EXPECT_GT(most, 1.3f);
    EXPECT_NEAR(p.rows(200)[40].position.y, 1, 1e-2);
}

TEST(Press, WithNothingInReachNothingMovesAndTheReasonIsTold) {
    Pressing p(boxShape);
    p.b.set(p.press, "reach", {0.2}).set(p.target, "size", {9, 2, 9});
    for (const InstanceRow& row : p.rows()) EXPECT_EQ(row.position.y, 0);
    EXPECT_NE(pressGesture.stillReason.find("within its reach"), std::string::npos);
}

TEST(Press, WhatIsGoneMakesTheCardWait) {
    Pressing p(boxShape, 2);
    p.b.scene = gswarm::remove(p.b.scene, p.target).scene;
    const auto result = p.b.result();
    EXPECT_EQ(result->count, 81);
    EXPECT_NE(result->cards[0].waits.find("was deleted"), std::string::npos) << result->cards[0].waits;
}

TEST(Press, ANewOneTakesAnotherSwarmAndHasItsNumbers) {
    Build b = Build::grid(3, 1, 3);
    const Edit beads = addSwarm(b.scene);
    const Object gesture = standardObject(ObjectType::gesture, "Press", {&pressGesture});
    const Edit made = addGesture(beads.scene, b.swarm, gesture);
    const Part& part = made.scene.at(made.made).part("change");
    EXPECT_EQ(referenceOf(part, "against"), beads.made);
    EXPECT_EQ(made.scene.at(referenceOf(part, "far")).name, "far");
    EXPECT_EQ(made.scene.at(referenceOf(part, "which")).name, "which");
    EXPECT_FALSE(referenceOf(part, "met"));
    // In the other swarm it may not press back: that would be a circle.
    const Edit back = addGesture(made.scene, beads.made, standardObject(ObjectType::gesture, "Press back", {&pressGesture}));
    EXPECT_NE(referenceOf(back.scene.at(back.made).part("change"), "against"), b.swarm);
    EXPECT_THROW(setValue(back.scene, addressOf(back.scene, back.made, "against"), Value(b.swarm)), Error);
}

TEST(RayTargets, AgreeWithAPlaneInDouble) {
    auto meshes = std::make_shared<ShapeMeshes>();
    Mesh mesh;
    for (const vec3& p : {vec3(0, 0, 0), vec3(0, 0, 1), vec3(1, 0, 0)}) addVertex(mesh, p, {0, 1, 0}, {0, 0});
    addFace(mesh, {0, 1, 2});
    meshes->level.fill(std::make_shared<const Mesh>(mesh));
    const auto treeOf = [](const ShapeMeshes& m) { return std::make_shared<const RayTree>(m.mesh()); };
    const auto standing = [&](float height, const vec3& scale) {
        return StandingShape{meshes, glm::translate(glm::mat4(1), vec3(0, height, 0)) * glm::scale(glm::mat4(1), scale)};
    };
    const RayTargets targets({standing(2, {3, 1, 3}), standing(5, {-3, 1, 3})}, treeOf);
    const auto shoot = [&](vec3 from, vec3 along, float reach) {
        const RayTargets::Ray ray{from, along};
        RayTargets::Hit hit;
        targets.first(&ray, 1, reach, &hit);
        return hit;
    };
    const auto up = shoot({0.5f, 0, 0.5f}, {0, 1, 0}, 10);
    EXPECT_EQ(up.which, 0);
    EXPECT_EQ(up.distance, 2);
    EXPECT_TRUE(up.inside) << "its outside is above";
    const auto down = shoot({0.5f, 3, 0.5f}, {0, -1, 0}, 10);
    EXPECT_EQ(down.distance, 1);
    EXPECT_FALSE(down.inside);
    const auto mirrored = shoot({-0.5f, 3, 0.5f}, {0, 1, 0}, 10);
    EXPECT_EQ(mirrored.which, 1);
    EXPECT_TRUE(mirrored.inside) << "a mirror leaves what is up";
    EXPECT_EQ(shoot({0.5f, 0, 0.5f}, {0, 1, 0}, 1.9f).which, -1);
    EXPECT_EQ(shoot({9, 0, 9}, {0, 1, 0}, 100).which, -1);
}
