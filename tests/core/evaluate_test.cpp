// Census, Why?, tally, cancelling, loops and the store.
#include <gtest/gtest.h>

#include <algorithm>
#include <chrono>
#include <mutex>
#include <set>
#include <thread>

#include <cstring>
#include <thread>

#include "core/base/error.h"
#include "core/explain/acting_frame.h"
#include "core/explain/why.h"
#include "core/file/project_file.h"
#include "core/flow/extent.h"
#include "core/kinds/registry.h"
#include "core/measure/yardstick.h"
#include "core/provide/store.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

std::string whyOf(const Build& b, int card = 0, double frame = 0) {
    const ObjectId entry = b.scene.at(b.swarm).list("rail")[static_cast<std::size_t>(card)];
    const auto why = whyNothing(b.scene, *b.result(frame), entry, {});
    return why ? why->reason : "";
}

/// The mend, applied; the card must then act.
bool mendHelps(Build b, int card = 0) {
    const ObjectId entry = b.scene.at(b.swarm).list("rail")[static_cast<std::size_t>(card)];
    const auto why = whyNothing(b.scene, *b.result(), entry, {});
    if (!why || !why->mend) return false;
    b.scene = why->mend->scene;
    const auto result = b.result();
    for (const Census& c : result->cards)
        if (c.entry == entry) return c.touched > 0 && c.seen > 0;
    return false;
}

}  // namespace

TEST(Census, CountsWeightAndEffectApart) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId g = b.gesture(), over = b.gesture();
    b.set(g, "position", true);
    const ObjectId z = b.zone(g, "box");
    b.set(z, "size", {6, 4, 4}).set(z, "softEdge", {0});  // the six within ± 3 m
    EXPECT_EQ(b.result()->cards[0].touched, 6);
    EXPECT_EQ(b.result()->cards[0].seen, 6);
    b.set(over, "position", true).set(over, "positionMode", std::string("to"));
    const ObjectId half = b.zone(over, "box");
    b.set(half, "size", {10, 4, 4}).set(half, "position", {5, 0, 0}).set(half, "softEdge", {0});  // x above 0
    EXPECT_EQ(b.result()->cards[0].touched, 6);
    EXPECT_EQ(b.result()->cards[0].seen, 3);
}

TEST(Census, WhatIsHiddenIsNotSeen) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId g = b.gesture(), hide = b.gesture();
    b.set(g, "position", true).set(hide, "scale", true).set(hide, "scaleAmount", {0, 0, 0});
    const auto result = b.result();
    EXPECT_EQ(result->visible, 0);
    EXPECT_EQ(result->cards[0].touched, 10);
    EXPECT_EQ(result->cards[0].seen, 0);
    for (const auto v : result->columns->variant) EXPECT_EQ(v, notShown);
}

TEST(Census, TheStripHoldsEveryStridethWeight) {
    Build b = Build::grid(100, 1, 30);
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    b.zone(g, "ball");
    const auto rows = b.rows();
    const auto strip = b.result()->cards[0].samples.strip;
    ASSERT_EQ(strip.size(), 500u);
    for (std::size_t k = 0; k < strip.size(); ++k) EXPECT_NEAR(rows[k * 6].position.y, strip[k], 1e-6f);
}

TEST(Why, NamesEachCauseAndItsMendHelps) {
    Build b = Build::grid(5, 1, 5);
    const ObjectId g = b.gesture();
    EXPECT_NE(whyOf(b).find("No channel"), std::string::npos);
    EXPECT_TRUE(mendHelps(b));
    b.set(g, "position", true);
    EXPECT_EQ(whyOf(b), "");
    Build off = b;
    off.set(b.scene.at(b.swarm).list("rail")[0], "on", false);
    EXPECT_NE(whyOf(off).find("off"), std::string::npos);
    EXPECT_TRUE(mendHelps(off));
    Build weak = b;
    weak.set(g, "strength", {0});
    EXPECT_NE(whyOf(weak).find("strength is 0"), std::string::npos);
    EXPECT_TRUE(mendHelps(weak));
    Build still = b;
    still.set(g, "positionAmount", {0, 0, 0});
    EXPECT_NE(whyOf(still).find("amounts"), std::string::npos);
    Build range = b;
    range.set(g, "where-outHigh", {0});
    EXPECT_NE(whyOf(range).find("range"), std::string::npos);
    EXPECT_TRUE(mendHelps(range));
    Build away = b;
    const ObjectId z = away.zone(g, "ball");
    away.set(z, "position", {100, 0, 0});
    EXPECT_NE(whyOf(away).find("elsewhere"), std::string::npos);
    EXPECT_TRUE(mendHelps(away));
    Build zoneOff = away;
    zoneOff.set(z, "position", {0, 0, 0}).set(z, "on", false);
    EXPECT_NE(whyOf(zoneOff).find("is off"), std::string::npos);
    EXPECT_TRUE(mendHelps(zoneOff));
    Build over = b;
    const ObjectId later = over.gesture();
    over.set(later, "position", true).set(later, "positionMode", std::string("to"));
    EXPECT_NE(whyOf(over).find("comes later"), std::string::npos);
    EXPECT_TRUE(mendHelps(over));
}

TEST(Tally, TellsTheValuesAfterEachCard) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId up = b.gesture(), big = b.gesture();
    b.set(up, "position", true).set(big, "scale", true);
    const auto rows = b.rows();
    const auto steps = tally(b.plan(), b.scene, rows[2].id);
    ASSERT_EQ(steps.size(), 3u);
    EXPECT_EQ(steps[0].card, "Home");
    EXPECT_EQ(steps[0].instance.position, glm::vec3(1, 0, 0));
    EXPECT_EQ(steps[1].instance.position, glm::vec3(1, 1, 0));
    EXPECT_EQ(steps[1].instance.scale, glm::vec3(1));
    EXPECT_EQ(steps[2].instance.scale, glm::vec3(1.5f));
    EXPECT_EQ(steps[2].instance.position, rows[2].position);
    EXPECT_THROW(tally(b.plan(), b.scene, 123456789), Error);
}

TEST(Evaluate, ASoloLeavesTheOtherCardsOut) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId up = b.gesture(), more = b.gesture();
    b.set(up, "position", true).set(more, "position", true).set(more, "positionAmount", {0, 0, 5});
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(b.scene, b.swarm, 0, {b.scene.at(b.swarm).list("rail")[1], {}}, progress);
    EXPECT_EQ(result->columns->matrix[7], 0);
    EXPECT_EQ(result->columns->matrix[11], 5);
}

TEST(Evaluate, CancelsBetweenBlocks) {
    const Scene scene = yardstickScene(1'000'000);
    Evaluator evaluator;
    Progress progress;
    evaluator.evaluate(scene, scene.all(ObjectType::swarm).front(), 0, {}, progress);
    progress.cancel();
    EXPECT_THROW(evaluator.evaluate(scene, scene.all(ObjectType::swarm).front(), 1, {}, progress), Cancelled);
}

TEST(Evaluate, RecyclesColumnsOnlyWhenNobodyHoldsThem) {
    Build b = Build::grid(4, 1, 4);
    Evaluator evaluator;
    Progress progress;
    const auto kept = evaluator.evaluate(b.scene, b.swarm, 0, {}, progress);
    const auto before = kept->columns->matrix;
    const void* dropped = nullptr;
    {
        b.set(b.formation, "spacing", {3, 3, 3});
        const auto other = evaluator.evaluate(b.scene, b.swarm, 0, {}, progress);
        EXPECT_NE(other->columns, kept->columns);
        dropped = other->columns.get();
    }
    EXPECT_EQ(kept->columns->matrix, before);
    EXPECT_EQ(evaluator.evaluate(b.scene, b.swarm, 0, {}, progress)->columns.get(), dropped);
}

TEST(Evaluate, AnInstanceWhosePlaceIsNoNumberIsLeftOutAndCounted) {
    Build b = Build::grid(3, 1, 1);
    b.set(b.formation, "spacing", {1e6, 1, 1}).set(b.swarm, "scale", {1});
    for (int k = 0; k < 8; ++k) {
        const ObjectId g = b.gesture("alongAxis");
        b.set(g, "position", true)
            .set(g, "positionAmount", {1e6, 0, 0})
            .set(g, "place", std::string("current"))
            .set(g, "pattern-measure", std::string("metres"));
    }
    const auto result = b.result();
    EXPECT_EQ(result->visible + result->notFinite, 3);
    EXPECT_EQ(result->notFinite, 2);  // the middle one stays at 0
}

TEST(Loop, FramesALoopApartAreEqualToTheBit) {
    const Scene scene = loadProject(GSWARM_SOURCE "/demo/tidal-floor.gswarm");
    const ObjectId swarm = scene.all(ObjectType::swarm).front();
    Evaluator evaluator;
    Progress progress;
    const double length = momentAt(scene, 0).loopFrames;
    const auto first = evaluator.evaluate(scene, swarm, 0, {}, progress), next = evaluator.evaluate(scene, swarm, length, {}, progress);
    EXPECT_EQ(first->columns->matrix, next->columns->matrix);
    EXPECT_EQ(first->columns->colour, next->columns->colour);
    // And the seam is as smooth as the rest: the step over it is no larger than twice a step elsewhere.
    const auto stepAt = [&](double frame) {
        const auto a = evaluator.evaluate(scene, swarm, frame, {}, progress), b = evaluator.evaluate(scene, swarm, frame + 1, {}, progress);
        float most = 0;
        for (std::size_t i = 0; i < a->columns->matrix.size(); ++i)
            most = std::max(most, std::abs(a->columns->matrix[i] - b->columns->matrix[i]));
        return most;
    };
    EXPECT_LT(stepAt(length - 1), 2 * stepAt(length / 2));
}

TEST(Store, KeepsWithinItsBytesAndForgetsTheOldest) {
    Store store(100);
    int made = 0;
    const auto get = [&](std::uint64_t key) {
        store.get<int>(
            key, [&] { return ++made, std::make_shared<const int>(static_cast<int>(key)); }, [](const int&) { return std::size_t{40}; });
    };
    get(1), get(2), get(1), get(3);
    EXPECT_EQ(made, 3);
    EXPECT_LE(store.bytes(), 100u);
    get(1);
    EXPECT_EQ(made, 3);
    get(2);
    EXPECT_EQ(made, 4);
}

TEST(Store, ServesSeveralThreads) {
    Store store;
    std::vector<std::thread> threads;
    std::atomic<int> wrong{0};
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&] {
            for (std::uint64_t k = 0; k < 200; ++k)
                if (*store.get<std::uint64_t>(
                        k % 17, [k] { return std::make_shared<const std::uint64_t>(k % 17); },
                        [](const std::uint64_t&) { return std::size_t{8}; }) != k % 17)
                    ++wrong;
        });
    for (auto& thread : threads) thread.join();
    EXPECT_EQ(wrong, 0);
}

TEST(Why, TellsOfGesturesThatFindNothingToDo) {
    for (const auto& [kind, reason] :
         {std::pair{"smooth", "alike already"}, {"makeRoom", "nearer than their sizes"}, {"snap", "on its steps"}}) {
        Build b = Build::grid(9, 1, 9);
        b.set(b.formation, "spacing", {1.5, 1.5, 1.5}).set(b.formation, "anchor", std::string("corner"));
        const ObjectId g = b.gesture();
        b.scene = setKind(b.scene, g, "change", *findKind(Family::gesture, kind)).scene;
        if (std::string(kind) == "smooth") b.set(g, "reach", {2}).set(g, "scale", true).set(g, "colour", true);
        if (std::string(kind) == "snap") b.set(g, "position", true).set(g, "step", {0.5, 0.5, 0.5});
        const auto census = b.result()->cards[0];
        EXPECT_EQ(census.touched, 81) << kind;
        EXPECT_EQ(census.seen, 0) << kind;
        EXPECT_NE(whyOf(b).find(reason), std::string::npos) << kind << ": " << whyOf(b);
    }
    // One that differs is evened out, and its neighbours with it.
    Build b = Build::grid(9, 1, 1);
    const ObjectId size = b.gesture("number"), g = b.gesture();
    b.set(size, "scale", true).set(b.zone(size, "nearest"), "position", {0, 0, 0});
    b.scene = setKind(b.scene, g, "change", *findKind(Family::gesture, "smooth")).scene;
    b.set(g, "reach", {1.5}).set(g, "scale", true);
    EXPECT_EQ(b.result()->cards[1].touched, 9);
    EXPECT_EQ(b.result()->cards[1].seen, 3 + 2 * (int(numberAt(b.scene, b.scene.at(g).part("change"), "rounds", 0)) - 1));
}

namespace {

std::optional<double> actsNear(const Build& b, double from, int card = 0) {
    const ObjectId entry = b.scene.at(b.swarm).list("rail")[static_cast<std::size_t>(card)];
    Evaluator evaluator(2);
    Progress progress;
    const auto cards = actingFrames(b.scene, b.swarm, {}, evaluator, progress);
    EXPECT_EQ(cards[static_cast<std::size_t>(card)].entry, entry);
    return nearestActing(cards[static_cast<std::size_t>(card)], from);
}

}  // namespace

TEST(ActingFrame, IsWhereAPassingZoneCoversMost) {
    Build b = Build::grid(11, 1, 1);  // x from −5 to 5
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    const ObjectId z = b.zone(g, "box");
    b.set(z, "size", {6, 4, 4}).set(z, "softEdge", {0});
    // From −50 m to 50 m in frames 0 to 100, one metre a frame: all or none of it lies within 3 m of the middle.
    b.key(z, "position", {{0, -50, Ease::linear}, {100, 50, Ease::linear}});
    for (const double from : {0.0, 20.0, 90.0, 124.0}) {
        EXPECT_EQ(b.result(from)->cards[0].touched, 0);
        ASSERT_TRUE(actsNear(b, from)) << from;
        const double frame = *actsNear(b, from);
        EXPECT_NEAR(frame, 50, 3) << from;
        EXPECT_GE(b.result(frame)->cards[0].touched, 5) << from;
    }
}

TEST(ActingFrame, IsTheNearerOfTwo) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    b.key(g, "strength", {{0, 0, Ease::hold}, {10, 100, Ease::hold}, {20, 0, Ease::hold}, {90, 100, Ease::hold}, {110, 0, Ease::hold}});
    ASSERT_TRUE(actsNear(b, 30));
    EXPECT_GE(*actsNear(b, 30), 10);
    EXPECT_LT(*actsNear(b, 30), 20);
    EXPECT_GE(*actsNear(b, 70), 90);
    EXPECT_LT(*actsNear(b, 70), 110);
    EXPECT_GE(*actsNear(b, 124), 90);
    EXPECT_LT(*actsNear(b, 500), 110);  // from beyond the piece
}

TEST(ActingFrame, IsNoneWhereItNeverActs) {
    Build b = Build::grid(10, 1, 1);
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "strength", {0});
    EXPECT_FALSE(actsNear(b, 0));
    // Nor where a later card covers all it does.
    b.set(g, "strength", {100});
    const ObjectId over = b.gesture();
    b.set(over, "position", true).set(over, "positionMode", std::string("to"));
    EXPECT_FALSE(actsNear(b, 0));
    EXPECT_TRUE(actsNear(b, 0, 1));
}

TEST(ActingFrame, IsFoundInAHugeSwarmByLookingAtAShareOfIt) {
    Build b = Build::grid(500, 1, 500);
    const ObjectId g = b.gesture();
    b.set(g, "position", true);
    const ObjectId z = b.zone(g, "ball");
    b.set(z, "radius", {60});
    b.key(z, "position", {{0, 5000, Ease::linear}, {124, -5000, Ease::linear}}, 2);
    ASSERT_TRUE(actsNear(b, 0));
    EXPECT_NEAR(*actsNear(b, 0), 62, 4);
}

TEST(Evaluator, OneThreadIsOneThread) {
    const auto threadsSeen = [](Evaluator& evaluator) {
        std::mutex mutex;
        std::set<std::thread::id> seen;
        evaluator.workers().run([&] {
            forEach(64, [&](std::size_t) {
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
                const std::lock_guard lock(mutex);
                seen.insert(std::this_thread::get_id());
            });
        });
        return seen.size();
    };
    Evaluator one(1), two(2);
    for (int round = 0; round < 5; ++round) EXPECT_EQ(threadsSeen(one), 1u);
    // A second one comes sooner or later, however busy the machine is.
    std::size_t most = 0;
    for (int round = 0; round < 100 && most < 2; ++round) most = std::max(most, threadsSeen(two));
    EXPECT_EQ(most, std::thread::hardware_concurrency() > 1 ? 2u : 1u);
}

TEST(Evaluator, PreparingUsesItsThreadsAlone) {
    // Making homes asks on which thread it is; on one thread that is always this one.
    Build b;
    const ObjectId shape = b.standOn("evenlySpaced", "ball");
    b.set(shape, "radius", {3});
    Evaluator one(1), two(2);
    Progress progress;
    EXPECT_EQ(one.workers().count(), 1);
    const auto alone = one.evaluate(b.scene, b.swarm, 0, {}, progress), together = two.evaluate(b.scene, b.swarm, 0, {}, progress);
    EXPECT_EQ(alone->columns->matrix, together->columns->matrix);
    EXPECT_EQ(alone->columns->variant, together->columns->variant);
}

TEST(Extent, IsTheBoxAroundEveryCornerOfWhatIsShown) {
    Build b = Build::grid(3, 2, 2);
    b.set(b.shape, "size", {0.4, 1.5, 0.2});
    const ObjectId turned = b.gesture("random");
    b.set(turned, "rotation", Value(true)).set(turned, "rotationAmount", {40, 70, 20});
    b.set(turned, "scale", Value(true)).set(turned, "scaleAmount", {2, 1, 1.5});
    const auto result = b.result();
    Bounds corners;
    for (int row = 0; row < result->count; ++row) {
        const float* m = &result->columns->matrix[12 * static_cast<std::size_t>(row)];
        const Bounds& box = result->variants[result->columns->variant[static_cast<std::size_t>(row)]].meshes->bounds;
        for (int k = 0; k < 8; ++k) {
            const glm::vec3 p(k & 1 ? box.low.x : box.high.x, k & 2 ? box.low.y : box.high.y, k & 4 ? box.low.z : box.high.z);
            corners.add({m[0] * p.x + m[1] * p.y + m[2] * p.z + m[3], m[4] * p.x + m[5] * p.y + m[6] * p.z + m[7],
                         m[8] * p.x + m[9] * p.y + m[10] * p.z + m[11]});
        }
    }
    const Bounds extent = extentOf(*result);
    for (int axis = 0; axis < 3; ++axis) {
        EXPECT_NEAR(extent.low[axis], corners.low[axis], 1e-5) << axis;
        EXPECT_NEAR(extent.high[axis], corners.high[axis], 1e-5) << axis;
    }
    EXPECT_GT(extent.size().y, result->bounds.size().y) << "more than the box of the places";
    Build hidden = Build::grid(2, 1, 1);
    const ObjectId hides = hidden.gesture();
    hidden.set(hides, "showing", Value(true));
    EXPECT_TRUE(extentOf(*hidden.result()).empty());
}
