// The card "Bodies": in the rail, in time, by any route, and what it tells.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>

#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A block of balls, half a metre wide, as bodies.
struct Pearls : Build {
    ObjectId bodies;

    explicit Pearls(int side = 4, int high = 2) : Build(Build::grid(side, high, side)) {
        scene = setKind(scene, shape, "maker", *findKind(Family::shape, "ball")).scene;
        set(shape, "radius", {0.25}).set(formation, "spacing", {0.6, 0.6, 0.6});
        set(swarm, "position", {0, 2, 0});
        const Edit edit = addGesture(scene, swarm, standardObject(ObjectType::gesture, "Bodies", {&bodiesGesture}));
        scene = edit.scene;
        bodies = edit.made;
    }
    /// Without weight, each at home on a spring.
    Pearls& striving() {
        set(bodies, "gravity", {0}).set(bodies, "ground", false).set(bodies, "strive", {1.5});
        return *this;
    }
};

std::vector<float> matricesAt(Evaluator& evaluator, const Build& build, double frame) {
    Progress progress;
    const auto result = evaluator.evaluate(build.scene, build.swarm, frame, {}, progress);
    return {result->columns->matrix.begin(), result->columns->matrix.end()};
}

}  // namespace

TEST(Bodies, FallAndRestOnTheGround) {
    const Pearls pearls;
    const auto first = pearls.rows(0), later = pearls.rows(60);
    for (std::size_t i = 0; i < first.size(); ++i) {
        EXPECT_GT(first[i].position.y, 1.5f) << "at the first frame all is where the cards before have it";
        EXPECT_GT(later[i].position.y, 0.24f) << i;
        EXPECT_LT(later[i].position.y, 0.9f) << i;
    }
}

TEST(Bodies, TheSameBitsByAnyRouteAndOnAnyThreads) {
    Pearls pearls(5, 3);
    const ObjectId g = pearls.bodies;
    pearls.key(g, "push", {{0, 0, Ease::linear}, {20, 8, Ease::linear}, {30, -8, Ease::hold}});
    Evaluator straight(2), played(1), scrubbed(2);
    const auto wanted = matricesAt(straight, pearls, 37);
    for (int frame = 0; frame < 37; ++frame) matricesAt(played, pearls, frame);
    EXPECT_EQ(matricesAt(played, pearls, 37), wanted);
    for (const double frame : {50.0, 12.0, 36.5, 3.0}) matricesAt(scrubbed, pearls, frame);
    EXPECT_EQ(matricesAt(scrubbed, pearls, 37), wanted);
    // Long states go to disk and come back with what touched.
    Evaluator spilled(2);
    spilled.store().checkpoints().limit(1, making::temporaryFolder() / "bodies");
    for (const double frame : {33.0, 8.0, 37.0}) {
        const auto there = matricesAt(spilled, pearls, frame);
        if (frame == 37) {
            EXPECT_EQ(there, wanted);
        }
    }
}

TEST(Bodies, BetweenFramesTheyAreOnTheirWay) {
    const Pearls pearls(1, 1);
    const float from = pearls.rows(8)[0].position.y, between = pearls.rows(8.5)[0].position.y, to = pearls.rows(9)[0].position.y;
    EXPECT_LT(to, between);
    EXPECT_LT(between, from);
    // A frame's half of an even fall.
    EXPECT_NEAR(between, from - 9.81 / 25 * (8 * 0.5 + 0.125) / 25, 1e-3);
}

TEST(Bodies, BetweenFramesTheWayIsWhole) {
    // A bounce: near a frame they are near where they are at it, from both sides, and never far off the straight way.
    Pearls pearls(2, 2);
    pearls.set(pearls.bodies, "bounce", {80});
    for (int frame = 8; frame < 40; ++frame) {
        const auto from = pearls.rows(frame), to = pearls.rows(frame + 1);
        for (const double share : {1e-4, 0.3, 0.7, 1 - 1e-4}) {
            const auto between = pearls.rows(frame + share);
            for (std::size_t i = 0; i < from.size(); ++i) {
                const glm::vec3 straight = glm::mix(from[i].position, to[i].position, static_cast<float>(share));
                const double most = share > 0.1 && share < 0.9 ? 0.003 + 0.1 * glm::distance(from[i].position, to[i].position) : 1e-4;
                EXPECT_LT(glm::distance(between[i].position, straight), most) << frame << " " << share << " " << i;
            }
        }
    }
}

TEST(Bodies, AnEditKeepsTheFramesBeforeItsFirstEffect) {
    Pearls pearls;
    pearls.key(pearls.bodies, "push", {{0, 0, Ease::hold}, {30, 0, Ease::hold}});
    Evaluator evaluator(2);
    matricesAt(evaluator, pearls, 40);
    const auto before = matricesAt(evaluator, pearls, 20), at40 = matricesAt(evaluator, pearls, 40);
    pearls.key(pearls.bodies, "push", {{0, 0, Ease::hold}, {30, 9, Ease::hold}});
    EXPECT_EQ(matricesAt(evaluator, pearls, 20), before);
    EXPECT_NE(matricesAt(evaluator, pearls, 40), at40) << "what comes after is made anew";
    Evaluator fresh(2);
    EXPECT_EQ(matricesAt(fresh, pearls, 40), matricesAt(evaluator, pearls, 40));
}

TEST(Bodies, AZoneWakesThemAndTheyComeHome) {
    Pearls pearls = Pearls(6, 1).striving();
    const ObjectId g = pearls.bodies;
    pearls.choose(g, "wakes", "where").set(g, "push", {0, 6, 0});
    const ObjectId zone = pearls.zone(g, "ball");
    pearls.set(zone, "radius", {0.8}).set(zone, "softEdge", {0});
    // It lies about the first corner until frame 20 and is far away then.
    const vec3 corner = pearls.rows(0)[0].position;
    pearls.key(zone, "position", {{0, corner.x, Ease::hold}, {20, 100, Ease::hold}}, 0);
    pearls.set(zone, "position", Value(std::get<Numbers>(valueOf(pearls.scene, addressOf(pearls.scene, zone, "position")))));
    Numbers place = std::get<Numbers>(valueOf(pearls.scene, addressOf(pearls.scene, zone, "position")));
    place[1] = Track{corner.y}, place[2] = Track{corner.z};
    pearls.set(zone, "position", Value(place));
    const auto home = pearls.rows(0), stirred = pearls.rows(15), back = pearls.rows(150);
    EXPECT_GT(stirred[0].position.y, home[0].position.y + 0.03f);
    for (std::size_t i = 0; i < home.size(); ++i) {
        if (glm::distance(home[i].position, corner) > 2) making::expectNear(stirred[i].position, home[i].position, 0);
        making::expectNear(back[i].position, home[i].position, 0.003f);
    }
}

TEST(Bodies, FreezeWhereTheWeightLeavesThem) {
    Pearls pearls(2, 1);
    const ObjectId g = pearls.bodies;
    pearls.set(g, "gravity", {0}).set(g, "push", {0, 8, 0}).choose(g, "wakes", "where").choose(g, "then", "freeze");
    const ObjectId zone = pearls.zone(g, "ball");
    pearls.set(zone, "radius", {20}).set(zone, "softEdge", {0});
    pearls.key(zone, "position", {{0, 0, Ease::hold}, {15, 1000, Ease::hold}, {40, 0, Ease::hold}}, 0);
    const float home = pearls.rows(0)[0].position.y, frozen = pearls.rows(18)[0].position.y;
    EXPECT_GT(frozen, home + 0.5f);
    EXPECT_EQ(pearls.rows(39)[0].position.y, frozen);
    EXPECT_GT(pearls.rows(50)[0].position.y, frozen + 0.2f) << "woken again it goes on";
}

TEST(Bodies, GluedOnesFallAsOneUntilTheWeightPartsThem) {
    Pearls pearls(3, 1);
    const ObjectId g = pearls.bodies;
    pearls.set(pearls.formation, "spacing", {0.5, 0.5, 0.5}).choose(g, "glue", "weight").set(g, "glueHolds", {0}).set(g, "partsFrom", {50});
    pearls.choose(g, "collider", "box").set(pearls.swarm, "rotation", {20, 0, 30});
    const ObjectId zone = pearls.zone(g, "ball");
    pearls.set(zone, "radius", {40}).set(zone, "softEdge", {0}).set(zone, "on", false);
    const auto away = [&](double frame) {
        const auto rows = pearls.rows(frame);
        float sum = 0;
        for (const InstanceRow& row : rows) sum += glm::distance(row.position, rows[4].position);
        return sum;
    };
    EXPECT_NEAR(away(60), away(0), 0.2f) << "they are one piece";
    pearls.set(zone, "on", true);
    EXPECT_GT(std::abs(away(60) - away(0)), 0.4f);
}

TEST(Bodies, TellOfWhatOverlapsAndWhatIsLost) {
    Pearls pearls(2, 1);
    EXPECT_TRUE(pearls.result(1)->notes.empty());
    pearls.set(pearls.formation, "spacing", {0.4, 0.4, 0.4});
    for (const double frame : {0.0, 5.0})
        EXPECT_EQ(pearls.result(frame)->notes,
                  std::vector<std::string>{"4 pairs of bodies overlap where they begin; they part over the first half second."});
    pearls.set(pearls.formation, "spacing", {0.6, 0.6, 0.6});
    pearls.set(pearls.bodies, "gravity", {1e4}).set(pearls.bodies, "ground", false).set(pearls.bodies, "damping", {0});
    EXPECT_TRUE(pearls.result(20)->notes.empty());
    EXPECT_EQ(pearls.result(100)->notes, std::vector<std::string>{"4 bodies have run out of the world and sleep where that was."});
}

TEST(Bodies, ABlendClosesTheLoopExactly) {
    Pearls pearls(4, 2);
    const ObjectId g = pearls.bodies;
    pearls.set(g, "loops", true).key(g, "push", {{0, 6, Ease::linear}, {60, -6, Ease::linear}}, 0);
    pearls.set(pearls.scene.project().id, "loopFrames", {60}).set(pearls.scene.project().id, "lastFrame", {59});
    const auto gap = [&] {
        const auto begin = pearls.rows(0), end = pearls.rows(60);
        float most = 0;
        for (std::size_t i = 0; i < begin.size(); ++i) most = std::max(most, glm::distance(begin[i].position, end[i].position));
        return most;
    };
    EXPECT_GT(gap(), 0.05f) << "they have rolled on in a second lap";
    const auto without = pearls.rows(40), later = pearls.rows(57);
    pearls.set(g, "blend", {15});
    EXPECT_EQ(gap(), 0);
    EXPECT_EQ(pearls.rows(40)[3].position, without[3].position) << "before it nothing changes";
    EXPECT_NE(pearls.rows(57)[3].position, later[3].position);
    // It comes there evenly, between frames too, and by any route.
    for (double frame = 45; frame < 60; frame += 0.5)
        for (std::size_t i = 0; i < later.size(); ++i)
            EXPECT_LT(glm::distance(pearls.rows(frame)[i].position, pearls.rows(frame + 0.5)[i].position), 0.6f) << frame;
    Evaluator played(1);
    for (int frame = 0; frame < 57; ++frame) matricesAt(played, pearls, frame);
    Evaluator straight(2);
    EXPECT_EQ(matricesAt(played, pearls, 57), matricesAt(straight, pearls, 57));
}

TEST(Bodies, StrengthBlendsWithTheRail) {
    Pearls pearls(2, 1);
    const auto whole = pearls.rows(10);
    pearls.set(pearls.bodies, "strength", {50});
    const auto half = pearls.rows(10);
    pearls.set(pearls.bodies, "strength", {0});
    const auto none = pearls.rows(10);
    for (std::size_t i = 0; i < whole.size(); ++i) {
        EXPECT_NEAR(half[i].position.y, (whole[i].position.y + none[i].position.y) / 2, 1e-5f);
        EXPECT_LT(whole[i].position.y, none[i].position.y);
    }
}

TEST(Bodies, SizesByEarlierCardsCount) {
    Pearls pearls(1, 1);
    const ObjectId grow = pearls.gesture("steady");
    pearls.set(grow, "scale", true).choose(grow, "scaleMode", "to").set(grow, "scaleAmount", {2, 2, 2});
    // The gesture was added last; bodies follow it.
    const auto rail = pearls.scene.at(pearls.swarm).list("rail");
    pearls.scene = moveInList(pearls.scene, rail[1], 0).scene;
    EXPECT_NEAR(pearls.rows(100)[0].position.y, 0.5f, 0.02f);
}

TEST(Bodies, TellHowFastFarAndStillTheyAre) {
    Pearls pearls(1, 1);
    const auto named = [&](const char* name, const char* parameter) {
        const Edit edit = addNamedValue(pearls.scene, pearls.swarm, name);
        pearls.scene = edit.scene;
        pearls.set(pearls.bodies, parameter, Value(edit.made));
    };
    named("Speed", "speed"), named("Way", "away"), named("Contacts", "touching"), named("Rests", "resting"), named("Spin", "spin");
    const auto at = [&](double frame) {
        const Plan plan = pearls.plan(frame);
        std::vector<float> values;
        auto space = std::make_unique<FlowSpace>();
        runBlock(plan, 0, *space);
        for (int k = 0; k < 5; ++k) values.push_back(space->block.named[k][0]);
        return values;
    };
    const auto falling = at(10), lying = at(120);
    EXPECT_NEAR(falling[0], 9.81 * 10 / 25, 0.1);
    EXPECT_NEAR(falling[1], 9.81 / 2 * 0.16, 0.02);
    EXPECT_EQ(falling[2], 0);
    EXPECT_EQ(falling[3], 0);
    EXPECT_EQ(lying[0], 0);
    EXPECT_NEAR(lying[1], 1.75f, 0.02f);
    EXPECT_EQ(lying[2], 1);
    EXPECT_EQ(lying[3], 1);
    EXPECT_EQ(lying[4], 0);
    // A ball that is pushed over the floor rolls without sliding.
    pearls.set(pearls.bodies, "push", {2, 0, 0});
    const auto rolling = at(60);
    EXPECT_GT(rolling[0], 1);
    EXPECT_NEAR(rolling[4], glm::degrees(rolling[0] / 0.25f), 0.02f * rolling[4]);
}

TEST(Bodies, WhatHasNoSizeOrNoPlaceIsNoBody) {
    Pearls pearls(3, 1);
    const ObjectId odd = pearls.gesture("steady");
    pearls.set(odd, "scale", true).choose(odd, "scaleMode", "to").set(odd, "scaleAmount", {0, 0, 0});
    const ObjectId zone = pearls.zone(odd, "ball");
    pearls.set(zone, "position", {0, 2, 0}).set(zone, "radius", {0.3}).set(zone, "softEdge", {0});
    pearls.scene = moveInList(pearls.scene, pearls.scene.at(pearls.swarm).list("rail")[1], 0).scene;
    const auto rows = pearls.rows(30);
    EXPECT_EQ(rows[4].scale.x, 0);
    EXPECT_NEAR(rows[4].position.y, 2, 1e-5f) << "it stays where it is";
    EXPECT_LT(rows[0].position.y, 0.5f);
    Pearls many(330, 1);
    const auto result = many.result(0);
    EXPECT_NE(result->cards[0].waits.find("at most 100 000"), std::string::npos) << result->cards[0].waits;
    EXPECT_EQ(result->visible, 330 * 330) << "the rest goes on";
}
