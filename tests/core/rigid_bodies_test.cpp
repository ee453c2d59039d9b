// Rigid bodies by themselves: closed forms, energy, rest, and what nobody should ask for.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <limits>
#include <numbers>

#include "core/base/chance.h"
#include "core/kinds/registry.h"
#include "core/physics/rigid_bodies.h"
#include "core/prepare/carried.h"
#include "core/provide/shapes.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;

namespace {

/// Bodies of one collider, a metre wide.
struct Bodies {
    BodyFrame now;
    std::vector<BodyTask> tasks;
    std::vector<Collider> colliders;
    BodyRules rules;
    std::vector<Obstacle> obstacles{};

    explicit Bodies(ColliderForm form) {
        colliders.emplace_back();
        colliders.back().form = form;
    }
    void add(const vec3& aim) {
        BodyTask task;
        task.collider = 0;
        task.aim = aim;
        task.fresh = true;
        tasks.push_back(task);
        now.states.emplace_back();
    }
    void run(int frames, double share = 1) {
        Progress progress;
        for (int f = 0; f < frames; ++f) {
            now = advanced(now, tasks, colliders, obstacles, std::span(&rules, 1), share, progress);
            for (BodyTask& task : tasks) task.fresh = false;
        }
    }
    void begin() { run(1, 0); }
    vec3 place(std::size_t i = 0) const { return now.states[i].place; }
};

Bodies weightless(ColliderForm form = ColliderForm::ball) {
    Bodies bodies(form);
    bodies.rules.gravity = vec3(0);
    bodies.rules.ground = false;
    return bodies;
}

}  // namespace

TEST(RigidBodies, FallAsFarAsTheyShould) {
    Bodies bodies(ColliderForm::ball);
    bodies.rules.ground = false;
    bodies.add({1, 100, 2});
    bodies.begin();
    for (int frame = 1; frame <= 50; ++frame) {
        bodies.run(1);
        const double t = frame / bodies.rules.rate;
        ASSERT_NEAR(bodies.place().y, 100 - 9.81 / 2 * t * t, 2e-3) << frame;
        ASSERT_NEAR(bodies.now.states[0].speed.y, -9.81 * t, 1e-3) << frame;
    }
    making::expectNear({bodies.place().x, 0, bodies.place().z}, {1, 0, 2});
}

TEST(RigidBodies, StriveHomeWithoutSwinging) {
    for (const int steps : {1, 4}) {
        Bodies bodies = weightless();
        bodies.rules.strive = 1;
        bodies.rules.sleep = false;
        bodies.rules.steps = steps;
        bodies.add({0, 0, 0});
        bodies.begin();
        bodies.now.states[0].aim = bodies.tasks[0].aim = {1, 0, -2};
        for (int frame = 1; frame <= 50; ++frame) {
            bodies.run(1);
            // x″ = −w² x − 2 w x′ from 1 at rest.
            const double w = 2 * std::numbers::pi, t = frame / bodies.rules.rate, left = (1 + w * t) * std::exp(-w * t);
            ASSERT_NEAR(bodies.place().x, 1 - left, 3e-4) << frame;
            ASSERT_NEAR(bodies.place().z, -2 * (1 - left), 6e-4) << frame;
        }
    }
}

TEST(RigidBodies, TurnBackWithoutSwinging) {
    Bodies bodies = weightless(ColliderForm::box);
    bodies.rules.turnStrive = 1;
    bodies.rules.sleep = false;
    bodies.add({0, 0, 0});
    bodies.begin();
    bodies.now.states[0].turn = glm::angleAxis(1.5f, vec3(0, 0, 1));
    for (int frame = 1; frame <= 50; ++frame) {
        bodies.run(1);
        const double w = 2 * std::numbers::pi, t = frame / bodies.rules.rate;
        ASSERT_NEAR(glm::angle(bodies.now.states[0].turn), 1.5 * (1 + w * t) * std::exp(-w * t), 2e-3) << frame;
    }
}

TEST(RigidBodies, EnergyDoesNotGrowWithAWholeBounce) {
    for (const ColliderForm form : {ColliderForm::ball, ColliderForm::box}) {
        Bodies bodies(form);
        bodies.rules.bounce = 1;
        bodies.rules.friction = 0;
        bodies.add({0, 3, 0});
        bodies.add({0.2f, 5, 0.1f});
        bodies.begin();
        const auto energy = [&] {
            double sum = 0;
            for (const BodyState& s : bodies.now.states) sum += 9.81 * s.place.y + 0.5 * glm::dot(s.speed, s.speed);
            return sum;
        };
        const double first = energy();
        for (int frame = 0; frame < 500; ++frame) {
            bodies.run(1);
            ASSERT_LT(energy(), 1.02 * first) << frame;
        }
        for (const BodyState& s : bodies.now.states) EXPECT_GT(s.place.y, 0.4f);
    }
    // Alone it keeps nearly all of it.
    Bodies ball(ColliderForm::ball);
    ball.rules.bounce = 1;
    ball.add({0, 3, 0});
    ball.begin();
    float highest = 0;
    for (int frame = 0; frame < 100; ++frame) {
        ball.run(1);
        if (frame > 25) highest = std::max(highest, ball.place().y);
    }
    EXPECT_GT(highest, 2.6f);
}

TEST(RigidBodies, StacksStand) {
    for (const auto& [form, count] : {std::pair{ColliderForm::box, 10}, {ColliderForm::hull, 10}, {ColliderForm::tube, 5}}) {
        Bodies bodies(form);
        bodies.colliders[0].hulls.resize(1);
        for (int k = 0; k < 8; ++k)
            bodies.colliders[0].hulls[0].emplace_back(k & 1 ? 0.5f : -0.5f, k & 2 ? 0.5f : -0.5f, k & 4 ? 0.5f : -0.5f);
        for (int i = 0; i < count; ++i) bodies.add({0, 0.5f + static_cast<float>(i), 0});
        bodies.begin();
        bodies.run(500);
        for (std::size_t i = 0; i < bodies.tasks.size(); ++i) {
            making::expectNear(bodies.place(i), {0, 0.5f + static_cast<float>(i), 0}, 0.02f);
            EXPECT_TRUE(bodies.now.states[i].asleep) << i;
            EXPECT_EQ(bodies.now.states[i].contacts, i + 1 < bodies.tasks.size() ? 2 : 1) << i;
        }
    }
}

TEST(RigidBodies, PressingGoesOnFromFrameToFrame) {
    // A crooked stack that never sleeps: without what its bodies pressed with, each frame lets it give way a little.
    const auto drift = [](bool goesOn) {
        Bodies bodies(ColliderForm::box);
        bodies.rules.sleep = false;
        for (int i = 0; i < 10; ++i)
            bodies.add(
                {0.05f * static_cast<float>(i * 7 % 3 - 1), 0.5f + static_cast<float>(i), 0.04f * static_cast<float>(i * 5 % 3 - 1)});
        bodies.begin();
        float farthest = 0;
        for (int frame = 0; frame < 500; ++frame) {
            if (!goesOn) bodies.now.contacts.clear();
            bodies.run(1);
        }
        for (std::size_t i = 0; i < bodies.tasks.size(); ++i)
            farthest = std::max(farthest, glm::distance(bodies.place(i), bodies.tasks[i].aim));
        return farthest;
    };
    const float kept = drift(true);
    EXPECT_LT(kept, 0.1f);
    EXPECT_GT(drift(false), 2 * kept);
}

TEST(RigidBodies, PilesComeToRestWithin250Frames) {
    for (const std::uint64_t seed : {1u, 2u, 3u}) {
        Bodies bodies(ColliderForm::box);
        for (int i = 0; i < 400; ++i) {
            const auto random = [&](std::uint32_t which) { return chance(seed, static_cast<std::uint64_t>(i), which); };
            bodies.add({1.5f * static_cast<float>(i % 10) + 0.3f * random(0), 1 + 1.6f * static_cast<float>(i / 100),
                        1.5f * static_cast<float>(i / 10 % 10) + 0.3f * random(1)});
            bodies.tasks.back().aimTurn = glm::angleAxis(0.3f * random(2), glm::normalize(vec3(1, 2, 0.5f)));
        }
        bodies.begin();
        bodies.run(250);
        for (std::size_t i = 0; i < bodies.tasks.size(); ++i) {
            EXPECT_TRUE(bodies.now.states[i].asleep) << i << " of " << seed;
            EXPECT_GT(bodies.place(i).y, 0.48f);
        }
    }
}

TEST(RigidBodies, WhatOverlapsPartsGently) {
    Bodies bodies = weightless();
    bodies.rules.parting = true;
    bodies.add({0, 0, 0});
    bodies.add({0.5f, 0, 0});
    bodies.begin();
    float fastest = 0;
    for (int frame = 0; frame < 25; ++frame) {
        const float before = bodies.place(1).x;
        bodies.run(1);
        fastest = std::max({fastest, bodies.place(1).x - before, glm::length(bodies.now.states[1].speed) / 25});
        bodies.rules.parting = frame < 12;
    }
    EXPECT_NEAR(bodies.place(1).x - bodies.place(0).x, 1, 0.03f);
    EXPECT_LT(fastest, 0.1f) << "nothing explodes";
}

TEST(RigidBodies, HeldOnesGoWithTheirAimAndPush) {
    Bodies bodies = weightless(ColliderForm::box);
    bodies.add({0, 0, 0});
    bodies.add({1.5f, 0, 0});
    bodies.tasks[0].held = true;
    bodies.begin();
    for (int frame = 1; frame <= 25; ++frame) {
        bodies.tasks[0].aim.x = 0.04f * static_cast<float>(frame);
        bodies.run(1);
        making::expectNear(bodies.place(0), bodies.tasks[0].aim, 1e-6f);
    }
    EXPECT_GT(bodies.place(1).x, 1.9f);
}

TEST(RigidBodies, SleepUntilTheyAreTouchedOrPushed) {
    Bodies bodies(ColliderForm::box);
    bodies.add({0, 0.5f, 0});
    bodies.add({0, 4, 0});
    bodies.tasks[1].held = true;
    bodies.begin();
    bodies.run(40);
    EXPECT_TRUE(bodies.now.states[0].asleep);
    bodies.tasks[1].held = false;
    bodies.run(40);
    EXPECT_GT(bodies.place(1).y, 1.3f) << "it lies on the first";
    bodies.run(60);
    ASSERT_TRUE(bodies.now.states[0].asleep);
    bodies.tasks[0].push = {30, 0, 0};
    bodies.run(5);
    EXPECT_GT(bodies.place(0).x, 0.1f);
}

TEST(RigidBodies, TheSameBitsAgain) {
    const auto played = [] {
        Bodies bodies(ColliderForm::box);
        for (int i = 0; i < 60; ++i)
            bodies.add({0.3f * static_cast<float>(i % 5), 0.7f + 0.8f * static_cast<float>(i / 5), 0.11f * static_cast<float>(i % 7)});
        bodies.begin();
        bodies.run(40);
        return bodies.now.states;
    };
    const auto one = played(), two = played();
    for (std::size_t i = 0; i < one.size(); ++i) {
        EXPECT_EQ(one[i].place, two[i].place);
        EXPECT_EQ(one[i].turn, two[i].turn);
        EXPECT_EQ(one[i].spin, two[i].spin);
    }
}

TEST(RigidBodies, WhatRunsAwaySleepsAtTheWorldsLimit) {
    Bodies bodies(ColliderForm::ball);
    bodies.add({0, 2, 0});
    bodies.add({5, 0.5f, 0});
    bodies.tasks[0].push = vec3(1e30f);
    bodies.begin();
    bodies.run(10);
    EXPECT_TRUE(bodies.now.states[0].asleep);
    EXPECT_TRUE(std::isfinite(glm::length(bodies.place(0))));
    making::expectNear(bodies.place(1), {5, 0.5f, 0}, 0.02f);
}

namespace {

Collider colliderFor(const char* kind, std::initializer_list<std::pair<const char*, double>> numbers, ColliderForm form) {
    making::Build b;
    const ObjectId shape = b.standOn("elements", kind);
    for (const auto& [parameter, value] : numbers) b.set(shape, parameter, {value});
    Progress progress;
    const auto meshes = shapesAt(b.scene, 0, {}, making::store(), progress).get(shape);
    return colliderOf(meshes->mesh(), meshes->bounds, form);
}

}  // namespace

TEST(Collider, HullsLetThroughWhatOneHullStops) {
    for (const ColliderForm form : {ColliderForm::hull, ColliderForm::hulls}) {
        Bodies bodies(ColliderForm::ball);
        bodies.add({0, 3, 0});
        bodies.tasks[0].scale = vec3(0.4f);
        const Collider ring = colliderFor("ring", {}, form);
        EXPECT_EQ(ring.form, form);
        for (const auto& hull : ring.hulls)
            for (const vec3& corner : hull)
                for (int a = 0; a < 3; ++a) EXPECT_LE(std::abs(corner[a]), ring.half[a] * 1.02f + 1e-3f);
        bodies.colliders.push_back(ring);
        bodies.add({0, 1.5f, 0});
        bodies.tasks[1].collider = 1;
        bodies.tasks[1].scale = vec3(0.5f / std::max(ring.half.x, ring.half.z));  // a metre across
        bodies.tasks[1].held = true;
        bodies.begin();
        bodies.run(100);
        if (form == ColliderForm::hull) {
            EXPECT_GT(bodies.place().y, 1.5f);
        } else {
            EXPECT_NEAR(bodies.place().y, 0.2f, 0.02f);
        }
    }
    // What is round already needs no more than one.
    EXPECT_EQ(colliderFor("ball", {}, ColliderForm::hulls).form, ColliderForm::hull);
}

TEST(RigidBodies, WhatIsGluedHoldsUntilItIsTooMuch) {
    for (const float holds : {0.0f, 2.0f}) {
        Bodies bodies(ColliderForm::box);
        for (int k = 0; k < 4; ++k) bodies.add({static_cast<float>(k), 3, 0});
        bodies.tasks[0].held = true;
        bodies.rules.bondHolds = holds;
        bodies.begin();
        const BodyStart start = startOf(bodies.now, bodies.tasks, bodies.colliders, std::span(&bodies.rules, 1));
        ASSERT_EQ(start.near.size(), 3u);
        making::expectNear(start.near[0].bond.place, {1, 0, 0}, 1e-6f);
        for (const BodyNear& near : start.near) {
            EXPECT_FALSE(near.overlaps);
            bodies.now.bonds.push_back(near.bond);
        }
        bodies.run(50);
        EXPECT_EQ(bodies.now.bonds.size(), holds > 0 ? 0u : 3u);
        if (holds > 0) {
            EXPECT_LT(bodies.place(1).y, 1.0f);
        } else {
            EXPECT_GT(bodies.place(3).y, 2.6f) << "it hangs from what is held";
        }
    }
}

TEST(Collider, IsTheSimplestThatFits) {
    const auto formOf = [](const char* kind, std::initializer_list<std::pair<const char*, double>> numbers) {
        return colliderFor(kind, numbers, ColliderForm::fitting);
    };
    EXPECT_EQ(formOf("ball", {}).form, ColliderForm::ball);
    EXPECT_EQ(formOf("box", {}).form, ColliderForm::box);
    EXPECT_EQ(formOf("tube", {}).form, ColliderForm::tube);
    const Collider cone = formOf("cone", {});
    EXPECT_EQ(cone.form, ColliderForm::hull);
    EXPECT_GE(cone.hulls.at(0).size(), 4u);
    EXPECT_LE(cone.hulls.at(0).size(), 64u);
    EXPECT_EQ(formOf("ring", {}).form, ColliderForm::hull);
}

TEST(Collider, ItsLinesLieOnIt) {
    for (const auto& [kind, form] : {std::pair{"ball", ColliderForm::ball},
                                     {"box", ColliderForm::box},
                                     {"tube", ColliderForm::tube},
                                     {"cone", ColliderForm::hull},
                                     {"ring", ColliderForm::hulls}}) {
        const Collider collider = colliderFor(kind, {}, form);
        const auto lines = linesOf(collider);
        EXPECT_GE(lines.size(), 3u) << kind;
        vec3 most(0);
        for (const auto& line : lines)
            for (const vec3& p : line) most = glm::max(most, glm::abs(p - collider.centre));
        for (int a = 0; a < 3; ++a) EXPECT_NEAR(most[a], collider.half[a], 0.03f * collider.half[a] + 1e-4f) << kind << a;
    }
}
