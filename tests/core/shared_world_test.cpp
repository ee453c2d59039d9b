// Several swarms in one world of bodies: they push each other, and give the same bits whichever is asked first.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A swarm of boxes, a metre wide, and one of balls of the same width, in one world.
struct Two : Build {
    ObjectId boxes, balls, boxBodies, ballBodies, ballFormation;

    explicit Two(int side = 1) : Build(Build::grid(side, 1, side)) {
        boxes = swarm;
        boxBodies = withBodies(boxes);
        Edit edit = addShape(scene, *findKind(Family::shape, "ball"));
        const ObjectId ball = edit.made;
        edit = addSwarmOf(edit.scene, ball);
        scene = edit.scene;
        balls = edit.made;
        ballFormation = referenceOf(scene.at(balls).part("place"), "formation");
        set(ball, "radius", {0.5}).set(ballFormation, "count", {double(side), 1, double(side)});
        set(ballFormation, "spacing", {1.5, 1.5, 1.5});
        ballBodies = withBodies(balls);
        set(ballBodies, "with", Value(boxes));
        set(boxes, "position", {0, 0.5, 0}).set(balls, "position", {0, 3, 0});
    }
    ObjectId withBodies(ObjectId of) {
        const Edit edit = addGesture(scene, of, standardObject(ObjectType::gesture, "Bodies", {&bodiesGesture}));
        scene = edit.scene;
        return edit.made;
    }
    Two& weightless() {
        for (const ObjectId g : {boxBodies, ballBodies})
            set(g, "gravity", {0}).set(g, "ground", false).set(g, "damping", {0}).set(g, "sleeps", false);
        return *this;
    }
    std::vector<vec3> places(Evaluator& evaluator, ObjectId of, double frame) const {
        Progress progress;
        const auto result = evaluator.evaluate(scene, of, frame, {}, progress);
        std::vector<vec3> all;
        for (int i = 0; i < result->count; ++i) {
            const float* m = &result->columns->matrix[12 * static_cast<std::size_t>(i)];
            all.push_back(result->pose.toWorld({m[3], m[7], m[11]}));
        }
        return all;
    }
    vec3 place(ObjectId of, double frame) const {
        Evaluator evaluator(2);
        return places(evaluator, of, frame).front();
    }
};

}  // namespace

TEST(SharedWorld, BallsComeToRestOnBoxes) {
    Two two;
    two.set(two.ballBodies, "bounce", {0}).set(two.boxBodies, "bounce", {0});
    EXPECT_NEAR(two.place(two.boxes, 100).y, 0.5f, 0.01f);
    EXPECT_NEAR(two.place(two.balls, 100).y, 1.5f, 0.02f);
    two.set(two.ballBodies, "with", Value(ObjectId{}));
    EXPECT_NEAR(two.place(two.balls, 100).y, 0.5f, 0.02f) << "without one world it falls through";
}

TEST(SharedWorld, TheyPushEachOther) {
    Two two;
    two.weightless();
    two.set(two.balls, "position", {-3, 0.5, 0}).set(two.ballBodies, "massBySize", false).set(two.boxBodies, "massBySize", false);
    two.key(two.ballBodies, "push", {{0, 20, Ease::hold}, {5, 0, Ease::hold}}, 0);
    for (const ObjectId g : {two.boxBodies, two.ballBodies}) two.set(g, "bounce", {100});
    Evaluator evaluator(2);
    const auto speed = [&](ObjectId of, double frame) {
        return 25 * (two.places(evaluator, of, frame + 1)[0].x - two.places(evaluator, of, frame)[0].x);
    };
    const float before = speed(two.balls, 8);
    EXPECT_GT(before, 2);
    EXPECT_EQ(speed(two.boxes, 8), 0);
    const float box = speed(two.boxes, 40), ball = speed(two.balls, 40);
    EXPECT_NEAR(box + ball, before, 0.01f * before) << "of equal masses what the one loses the other gains";
    EXPECT_GT(box, 0.6f * before);
    EXPECT_LT(ball, box);
}

TEST(SharedWorld, TheDenserOneHardlyMoves) {
    Two two;
    two.weightless();
    two.set(two.balls, "position", {-3, 0.5, 0}).set(two.boxBodies, "density", {1000});
    two.key(two.ballBodies, "push", {{0, 20, Ease::hold}, {5, 0, Ease::hold}}, 0);
    Evaluator evaluator(2);
    const float before = two.places(evaluator, two.balls, 9)[0].x - two.places(evaluator, two.balls, 8)[0].x;
    EXPECT_GT(before, 0.1f);
    EXPECT_LT(two.places(evaluator, two.boxes, 41)[0].x - two.places(evaluator, two.boxes, 40)[0].x, 0.01f * before);
}

TEST(SharedWorld, TheSameBitsWhicheverIsAskedFirst) {
    const Two two(3);
    Evaluator boxesFirst(2), ballsFirst(1), scrubbed(2);
    const auto boxes = two.places(boxesFirst, two.boxes, 30), balls = two.places(boxesFirst, two.balls, 30);
    EXPECT_EQ(two.places(ballsFirst, two.balls, 30), balls);
    EXPECT_EQ(two.places(ballsFirst, two.boxes, 30), boxes);
    for (const double frame : {41.0, 7.5, 22.0}) two.places(scrubbed, frame > 20 ? two.balls : two.boxes, frame);
    EXPECT_EQ(two.places(scrubbed, two.boxes, 30), boxes);
    EXPECT_EQ(two.places(scrubbed, two.balls, 30), balls);
    Evaluator played(2);
    for (int frame = 0; frame < 30; ++frame) two.places(played, frame % 3 ? two.balls : two.boxes, frame);
    EXPECT_EQ(two.places(played, two.boxes, 30), boxes);
    EXPECT_EQ(two.places(played, two.balls, 30), balls);
}

TEST(SharedWorld, WhatOneIsSetToIsSeenByTheOther) {
    Two two;
    const vec3 before = two.place(two.boxes, 30);
    Evaluator evaluator(2);
    EXPECT_EQ(two.places(evaluator, two.boxes, 30)[0], before);
    two.set(two.balls, "position", {0.45, 3, 0});
    EXPECT_GT(glm::distance(two.places(evaluator, two.boxes, 30)[0], before), 1e-4f) << "the box is struck at its edge";
    two.set(two.ballBodies, "gravity", {0});
    making::expectNear(two.places(evaluator, two.boxes, 30)[0], {0, 0.5f, 0}, 0.01f);
}

TEST(SharedWorld, IsOneWorldForAllThatAreLinked) {
    Two two;
    const Edit third = addSwarm(two.scene);
    two.scene = third.scene;
    const ObjectId bodies = two.withBodies(third.made);
    EXPECT_EQ(worldOf(two.scene, third.made).size(), 0u);
    two.set(bodies, "with", Value(two.balls));
    for (const ObjectId swarm : {two.boxes, two.balls, third.made}) EXPECT_EQ(worldOf(two.scene, swarm).size(), 3u);
    two.set(third.made, "position", {0, 8, 0});
    two.scene = setValue(two.scene, addressOf(two.scene, referenceOf(two.scene.at(third.made).part("place"), "formation"), "count"),
                         fixedNumbers({1, 1, 1}))
                    .scene;
    EXPECT_GT(two.place(third.made, 40).y, two.place(two.balls, 40).y);
}

TEST(SharedWorld, WhatCantBeIsRefusedOrTold) {
    Two two;
    // What is in the world already is no obstacle beside it.
    EXPECT_THROW(setValue(two.scene, addressOf(two.scene, two.ballBodies, "against"), two.boxes), Error);
    // A card before can't go by the other swarm, which goes by this one.
    Edit gesture = addGesture(two.scene, two.boxes, standardObject(ObjectType::gesture, "Lift"));
    gesture = moveInList(gesture.scene, gesture.scene.at(two.boxes).list("rail").back(), 0);
    const ObjectId lift = gesture.scene.at(two.boxes).list("rail").front();
    const ObjectId of = referenceOf(gesture.scene.at(lift).part("entry"), "gesture");
    const Edit zone = addZone(gesture.scene, of, *findKind(Family::zone, "nearSwarm"));
    EXPECT_THROW(setValue(zone.scene, addressOf(zone.scene, zone.made, "swarm"), two.balls), Error);
    Evaluator evaluator(2);
    Progress progress;
    // A swarm without bodies shares none.
    const Edit third = addSwarm(two.scene);
    two.scene = third.scene;
    two.set(two.boxBodies, "with", Value(third.made));
    EXPECT_NE(evaluator.evaluate(two.scene, two.boxes, 3, {}, progress)->cards.back().waits.find("has no bodies"), std::string::npos);
}
