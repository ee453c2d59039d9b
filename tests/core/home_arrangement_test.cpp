// What is done to any formation's homes: standing, order, density, versions, limits.
#include <gtest/gtest.h>

#include <numbers>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <string>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;
using making::byId;
using making::up;

namespace {

using std::numbers::pi;

}  // namespace

TEST(Standing, OffsetsAlongTheNormalTurnsUprightAndByChance) {
    Build b;
    const ObjectId ball = b.standOn("randomOnMesh", "ball");
    b.set(ball, "radius", {1}).set(b.formation, "count", {60}).set(b.formation, "standing-offset", {0.5});
    for (const auto& row : b.rows()) EXPECT_NEAR(glm::length(row.position), 1.5, 0.01);
    b.choose(b.formation, "standing-turned", "upright");
    for (const auto& row : b.rows()) EXPECT_LT(glm::distance(up(row), glm::vec3(0, 1, 0)), 1e-5f);
    b.choose(b.formation, "standing-turned", "formed");
    const auto plain = b.rows();
    const auto turned = b.set(b.formation, "standing-randomTurn", {40}).rows();
    double most = 0;
    for (std::size_t i = 0; i < plain.size(); ++i) {
        EXPECT_LT(glm::distance(up(plain[i]), up(turned[i])), 1e-5f);
        const double angle = 2 * std::acos(std::min(1.0f, std::abs(glm::dot(plain[i].rotation, turned[i].rotation)))) * 180 / pi;
        EXPECT_LE(angle, 40.01);
        most = std::max(most, angle);
    }
    EXPECT_GT(most, 30);
}

TEST(Order, FollowsAnAxisADistanceACurveOrChanceAndReverses) {
    Build b = Build::grid(6, 3, 6);
    const auto made = byId(b.rows());
    const auto check = [&](const char* by, auto key, bool reversed) {
        const auto rows = b.choose(b.formation, "order-by", by).set(b.formation, "order-reversed", reversed).rows();
        EXPECT_EQ(byId(rows), made) << by;
        for (std::size_t i = 1; i < rows.size(); ++i) {
            EXPECT_EQ(rows[i].number, static_cast<int>(i));
            if (reversed)
                EXPECT_GE(key(rows[i - 1].position), key(rows[i].position) - 1e-5f) << by;
            else
                EXPECT_LE(key(rows[i - 1].position), key(rows[i].position) + 1e-5f) << by;
        }
    };
    b.choose(b.formation, "order-axis", "z").set(b.formation, "order-place", {2, 0, -1});
    for (const bool reversed : {false, true}) {
        check(
            "axis", [](const glm::vec3& p) { return p.z; }, reversed);
        check(
            "distance", [](const glm::vec3& p) { return glm::distance(p, glm::vec3(2, 0, -1)); }, reversed);
    }
    const Edit line = addShape(b.scene, *findKind(Family::shape, "line"));
    b.scene = line.scene;
    b.set(b.formation, "order-curve", Value(line.made)).set(line.made, "from", {-4, 0, 0}).set(line.made, "to", {4, 0, 0});
    check(
        "curve", [](const glm::vec3& p) { return p.x; }, false);
    const auto shuffled = b.choose(b.formation, "order-by", "chance").rows();
    EXPECT_EQ(byId(shuffled), made);
    int moved = 0;
    const auto original = Build::grid(6, 3, 6).rows();
    for (std::size_t i = 0; i < shuffled.size(); ++i) moved += shuffled[i].id != original[i].id;
    EXPECT_GT(moved, 90);
}

TEST(Density, AZoneThinsGridsOutAndMovesRandomPoints) {
    Build b = Build::grid(30, 1, 30);
    const ObjectId gesture = b.gesture();
    const ObjectId zone = b.zone(gesture, "ball");
    b.set(zone, "radius", {6}).set(zone, "softEdge", {0}).set(b.formation, "standing-density", Value(zone));
    const auto thinned = b.rows();
    EXPECT_NEAR(static_cast<double>(thinned.size()), pi * 36, 12);
    for (const auto& row : thinned) EXPECT_LE(glm::length(row.position), 6.001f);
    const ObjectId card = b.standOn("randomOnMesh", "card");
    b.set(card, "width", {30}).set(card, "depth", {30}).set(b.formation, "count", {300});
    const auto rows = b.rows();
    EXPECT_EQ(rows.size(), 300u);  // as many as asked for, all where the zone is
    for (const auto& row : rows) EXPECT_LE(glm::length(row.position), 6.001f);
}

TEST(Density, InsideAMeshFollowsAZoneThatMovesAndKeepsItsCount) {
    Build b;
    const ObjectId box = b.standOn("scatterInMesh", "box");
    const ObjectId zone = b.zone(b.gesture(), "ball");
    b.set(box, "size", {10, 2, 2}).set(b.formation, "count", {200});
    b.set(zone, "radius", {2}).set(zone, "softEdge", {0}).set(b.formation, "standing-density", Value(zone));
    for (const double x : {-3.0, 3.0}) {
        b.set(zone, "position", {x, 0, 0});
        const auto rows = b.rows();
        EXPECT_EQ(rows.size(), 200u);
        for (const auto& row : rows) EXPECT_LE(glm::distance(row.position, glm::vec3(x, 0, 0)), 2.001f);
    }
    const auto all = byId(b.choose(b.formation, "scatter", "even").set(b.formation, "standing-density", Value(ObjectId{})).rows());
    const auto near = byId(b.set(b.formation, "standing-density", Value(zone)).rows());
    EXPECT_LT(near.size(), all.size());
    for (const auto& [id, place] : near) EXPECT_EQ(all.at(id), place);
}

TEST(FormationVersions, LightAndHeavyStandUnderTheSameGestures) {
    Build b = Build::grid(3, 1, 3);
    const ObjectId lift = b.gesture();
    b.set(lift, "position", true);
    Edit edit = addFormationVersion(b.scene, b.swarm);
    b.scene = edit.scene;
    b.set(edit.made, "count", {30, 1, 30});
    EXPECT_EQ(b.rows().size(), 900u);
    EXPECT_NEAR(b.rows()[0].position.y, 1, 1e-6);
    b.set(b.swarm, "formation", Value(b.formation));
    EXPECT_EQ(b.rows().size(), 9u);
    EXPECT_NEAR(b.rows()[0].position.y, 1, 1e-6);
    b.scene = remove(b.scene, b.formation).scene;
    EXPECT_EQ(b.rows().size(), 900u);
    EXPECT_THROW(remove(b.scene, edit.made), Error);
}

TEST(Backdrops, EveryShapeThatIsShownIsSeenOnceWhereItBelongs) {
    Build b;
    const ObjectId ground = b.standOn("randomOnMesh", "ball");
    b.set(b.swarm, "position", {3, 0, 0}).choose(ground, "display-as", "shown").choose(b.shape, "display-as", "dimmed");
    const Edit alone = addShape(b.scene, *findKind(Family::shape, "cone"));
    b.scene = alone.scene;
    b.choose(alone.made, "display-as", "shown");
    const Edit other = addSwarm(b.scene);
    b.scene = other.scene;
    const auto seen = b.plan().backdrops;
    ASSERT_EQ(seen.size(), 3u);
    for (const Backdrop& backdrop : seen) {
        EXPECT_EQ(backdrop.dimmed, backdrop.shape == b.shape);
        EXPECT_EQ(backdrop.pose.position.x, backdrop.shape == alone.made ? 0 : 3);
    }
    b.swarm = other.made;
    EXPECT_TRUE(b.plan().backdrops.empty());
}

TEST(SetFormation, KeepsCountsSeedsAndSpacingsAndFindsAGround) {
    Build b = Build::grid(10, 1, 10);
    const auto with = [&](const char* kind) {
        Build other = b;
        other.scene = setFormation(b.scene, b.formation, *findKind(Family::formation, kind)).scene;
        return other;
    };
    EXPECT_EQ(with("goldenSpiral").rows().size(), 100u);
    EXPECT_EQ(with("line").rows().size(), 100u);
    EXPECT_EQ(with("randomOnMesh").rows().size(), 100u);
    EXPECT_EQ(with("alongCurve").rows().size(), 100u);
    Build random = with("randomOnMesh");
    random.set(random.formation, "seed", {42});
    const Scene inside = setFormation(random.scene, random.formation, *findKind(Family::formation, "scatterInMesh")).scene;
    EXPECT_EQ(numberAt(inside, inside.at(random.formation).part("formation"), "seed", 0), 42);
    EXPECT_EQ(inside.all(ObjectType::shape).size(), random.scene.all(ObjectType::shape).size());
    EXPECT_EQ(choiceOf(inside.at(referenceOf(inside.at(random.formation).part("formation"), "shape")).part("display"), "as"), "dimmed");
}

TEST(Limit, WhatAMeshWouldMakeIsRefusedWithTheFigureBeforeItIsMade) {
    Build b;
    b.standOn("cells", "ball");
    b.set(b.formation, "spacing", {0.001});
    try {
        b.plan();
        FAIL();
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("about 515"), std::string::npos)
            << error.what();  // the ball of flat faces, in cubes of a millimetre
    }
}

TEST(Progress, MakingSomethingSlowCanBeCancelled) {
    Build b;
    b.standOn("evenlySpaced", "ball");
    b.choose(b.formation, "measure", "distance").set(b.formation, "distance", {0.003});
    Store store;
    Progress progress;
    progress.cancel();
    EXPECT_THROW(prepare(b.scene, b.swarm, 0, {}, store, progress), Cancelled);
}

TEST(Standing, AFormulaOfThePlaceThinsOutAndOneOfInstancesIsRefused) {
    Build b = Build::grid(10, 1, 10);
    const ObjectId zone = b.zone(b.gesture(), "formula");
    b.set(b.formation, "standing-density", Value(zone));
    b.set(zone, "weight", Value(Formula{"x > 0 && zNow > 0 ? 1 : 0", {}}));
    const auto rows = b.rows();
    EXPECT_EQ(rows.size(), 25u);
    for (const auto& row : rows) EXPECT_TRUE(row.position.x > 0 && row.position.z > 0);
    for (const char* text : {"chance(1)", "share", "i > 3 ? 1 : 0"}) {
        b.set(zone, "weight", Value(Formula{text, {}}));
        try {
            b.rows();
            FAIL() << text;
        } catch (const Error& error) {
            EXPECT_NE(std::string(error.what()).find("reads instances"), std::string::npos) << error.what();
        }
    }
}
