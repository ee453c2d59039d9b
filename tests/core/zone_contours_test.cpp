// Lines of zones that have no form of their own: where they begin to act and where they act wholly.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/prepare/rail_plan.h"
#include "core/prepare/zone_weights.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/read/zone_contours.h"
#include "core/resolve/resolve.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

ZoneContours contoursIn(const Build& b, ObjectId zone, double frame = 0) {
    Evaluator evaluator(2);
    Progress progress;
    const auto result = evaluator.evaluate(b.scene, b.swarm, frame, {}, progress);
    return contoursOf(b.scene, zone, *result, {}, evaluator.store(), progress);
}

std::vector<float> weightsAt(const Build& b, ObjectId zone, const std::vector<glm::vec3>& places) {
    Store store;
    Progress progress;
    ZoneWeights weights(b.scene, b.scene.at(zone), poseAt(b.scene, b.swarm, 0, making::store()),
                        railSourceOf(b.scene, b.swarm, 0, {}, store, progress), store);
    std::vector<float> out(places.size());
    weights(places, out.data());
    return out;
}

/// A grid in the ground plane, 20 m wide, with one gesture in a zone of the kind that follows a shape of its own.
struct Flat {
    Build b = Build::grid(21, 1, 21);
    ObjectId gesture = b.gesture(), zone, shape;
    explicit Flat(const char* kind, const char* shapeKind = nullptr) : zone(b.zone(gesture, kind)) {
        if (!shapeKind) return;
        const Edit made = addShape(b.scene, *findKind(Family::shape, shapeKind));
        b.scene = made.scene;
        shape = made.made;
        b.set(zone, "shape", Value(shape));
    }
};

/// Near a circle of 5 m about the middle: 2 m on both sides, soft over 1 m.
Flat nearCircle() {
    Flat f("nearCurve", "circle");
    f.b.set(f.shape, "radius", {5}).set(f.zone, "reach", {2}).set(f.zone, "softEdge", {1});
    return f;
}

double lengthOf(const ZoneLines& lines) {
    double length = 0;
    for (const auto& line : lines)
        for (std::size_t i = 1; i < line.size(); ++i) length += glm::distance(line[i - 1], line[i]);
    return length;
}

}  // namespace

TEST(ZoneContours, NearACircleAreCircles) {
    const Flat f = nearCircle();
    const ZoneContours lines = contoursIn(f.b, f.zone);
    ASSERT_EQ(lines.begins.size(), 2u);
    ASSERT_EQ(lines.wholly.size(), 2u);
    double length = 0;
    for (const auto& line : lines.begins) {
        EXPECT_EQ(line.front(), line.back());  // closed
        const double radius = std::hypot(line[0].x, line[0].z);
        EXPECT_TRUE(std::abs(radius - 3) < 0.2 || std::abs(radius - 7) < 0.2) << radius;
        for (const auto& p : line) {
            EXPECT_NEAR(std::hypot(p.x, p.z), radius, 0.2);
            EXPECT_EQ(p.y, 0);
        }
        length += 2 * 3.14159 * radius;
    }
    EXPECT_NEAR(lengthOf(lines.begins), length, 1);
    for (const auto& line : lines.wholly)
        for (const auto& p : line) EXPECT_NEAR(std::abs(std::hypot(p.x, p.z) - 5), 1, 0.2);
}

TEST(ZoneContours, NearAStraightLineAreOpenLinesFromSideToSide) {
    Flat f("nearCurve", "line");
    f.b.set(f.shape, "from", {0, 0, -50}).set(f.shape, "to", {0, 0, 50}).set(f.zone, "reach", {3}).set(f.zone, "softEdge", {1});
    const ZoneContours lines = contoursIn(f.b, f.zone);
    ASSERT_EQ(lines.begins.size(), 2u);
    for (const auto& line : lines.begins) {
        EXPECT_NE(line.front(), line.back());
        for (const auto& p : line) EXPECT_NEAR(std::abs(p.x), 3, 0.15);
    }
    EXPECT_GT(lengthOf(lines.begins), 40);
}

TEST(ZoneContours, OfAFormulaOfThePlaceAreWhereItSaysInTheSwarm) {
    Flat f("formula");
    // Places are 0.19 m apart; at a kink the crossing may lie a third of that beside. 1 up to 3 m from the middle of the swarm, 0 from 5 m
    // on.
    f.b.set(f.zone, "weight", Value(Formula{"clamp((5 - sqrt(x * x + zNow * zNow)) / 2, 0, 1)", {}}))
        .set(f.b.swarm, "position", {20, 1, 0});
    const ZoneContours lines = contoursIn(f.b, f.zone);
    ASSERT_EQ(lines.begins.size(), 1u);
    ASSERT_EQ(lines.wholly.size(), 1u);
    for (const auto& p : lines.begins[0]) EXPECT_NEAR(std::hypot(p.x - 20, p.z), 5 - 2 * 0.02, 0.06);
    for (const auto& p : lines.wholly[0]) EXPECT_NEAR(std::hypot(p.x - 20, p.z), 3 + 2 * 0.02, 0.06);
    // What is no number is nowhere.
    f.b.set(f.zone, "weight", Value(Formula{"1 / (x - x)", {}}));
    EXPECT_TRUE(contoursIn(f.b, f.zone).begins.empty());
}

TEST(ZoneContours, AreKeptUntilSomethingTheyDependOnChanges) {
    Flat f = nearCircle();
    f.b.key(f.zone, "reach", {{0, 2, Ease::linear}, {10, 3, Ease::linear}});
    Evaluator evaluator(2);
    Progress progress;
    const auto at = [&](double frame) {
        const auto result = evaluator.evaluate(f.b.scene, f.b.swarm, frame, {}, progress);
        return contoursOf(f.b.scene, f.zone, *result, {}, evaluator.store(), progress);
    };
    const auto widest = [](const ZoneContours& contours) {
        float radius = 0;
        for (const auto& line : contours.begins)
            for (const auto& p : line) radius = std::max(radius, std::hypot(p.x, p.z));
        return radius;
    };
    const ZoneContours first = at(0);
    EXPECT_NEAR(widest(first), 7, 0.2);
    EXPECT_EQ(at(0).begins, first.begins);
    EXPECT_NEAR(widest(at(10)), 8, 0.2);  // the zone is keyed
    EXPECT_EQ(at(0).begins, first.begins);
    f.b.set(f.shape, "radius", {4});
    EXPECT_NEAR(widest(at(0)), 6, 0.2);
    f.b.set(f.b.swarm, "position", {1, 0, 0});
    EXPECT_NE(at(0).begins, first.begins);
    f.b.set(f.b.swarm, "position", {0, 0, 0}).set(f.b.formation, "count", {5, 1, 5});
    EXPECT_LT(widest(at(0)), 6);  // the lines lie around a smaller swarm
}

TEST(ZoneContours, EveryPointOfThemHasTheWeightOfItsLine) {
    for (const auto& [kind, shape] :
         {std::pair{"noise", (const char*)nullptr}, {"nearCurve", "helix"}, {"nearMesh", "ball"}, {"insideMesh", "cone"}}) {
        SCOPED_TRACE(kind);
        Flat f(kind, shape);
        if (std::string(kind) == "insideMesh") f.b.set(f.shape, "radius", {6}).set(f.zone, "softEdge", {2});
        const ZoneContours lines = contoursIn(f.b, f.zone);
        ASSERT_FALSE(lines.begins.empty());
        double most = 0, sum = 0;
        int count = 0;
        for (const auto& line : lines.begins) {
            for (const float w : weightsAt(f.b, f.zone, line)) {
                most = std::max(most, std::abs(double(w) - 0.02));
                sum += std::abs(double(w) - 0.02);
                ++count;
            }
        }
        EXPECT_LT(sum / count, 0.06);  // mixed linearly between places a quarter of a metre apart
        EXPECT_LT(most, 0.5);
    }
}

TEST(ZoneContours, StandInTheWorldWithTheSwarmAndTheZone) {
    Flat f = nearCircle();
    f.b.set(f.zone, "position", {10, 3, 0}).set(f.b.swarm, "position", {10, 3, 0}).set(f.b.swarm, "rotation", {0, 30, 0});
    const ZoneContours lines = contoursIn(f.b, f.zone);
    ASSERT_EQ(lines.begins.size(), 2u);
    for (const auto& line : lines.begins)
        for (const auto& p : line) {
            EXPECT_NEAR(p.y, 3, 1e-5);
            EXPECT_NEAR(std::abs(std::hypot(p.x - 10, p.z) - 5), 2, 0.2);
        }
}

TEST(ZoneContours, AreInThreePlanesOfASwarmThatIsThick) {
    Flat f("nearMesh", "ball");
    f.b.set(f.b.formation, "count", {17, 17, 17}).set(f.shape, "radius", {4}).set(f.zone, "reach", {1.5}).set(f.zone, "softEdge", {1});
    const ZoneContours lines = contoursIn(f.b, f.zone);
    ASSERT_EQ(lines.begins.size(), 6u);  // outside and inside of the ball's surface, in each plane
    for (int axis = 0; axis < 3; ++axis)
        EXPECT_EQ(std::count_if(lines.begins.begin(), lines.begins.end(),
                                [&](const auto& line) {
                                    return std::all_of(line.begin(), line.end(),
                                                       [&](const glm::vec3& p) { return std::abs(p[axis]) < 1e-5f; });
                                }),
                  2);
    for (const auto& line : lines.begins)
        for (const auto& p : line) EXPECT_NEAR(std::abs(glm::length(p) - 4), 1.5, 0.2);
}

TEST(ZoneContours, AreNoneWhereThereIsNothingToDraw) {
    Flat everywhere("everywhere"), ball("ball"), nearest("nearest"), formula("formula"), waiting("nearSwarm");
    EXPECT_FALSE(hasContours(ball.b.scene.at(ball.zone)));            // draws its form itself
    EXPECT_TRUE(contoursIn(nearest.b, nearest.zone).begins.empty());  // means nothing between instances
    for (const char* text : {"i > 4 ? 1 : 0", "chance(3)", "share", "step(0.2, xSize)", "weight"}) {
        formula.b.set(formula.zone, "weight", Value(Formula{text, {}}));
        EXPECT_TRUE(contoursIn(formula.b, formula.zone).begins.empty()) << text;
    }
    EXPECT_TRUE(contoursIn(everywhere.b, everywhere.zone).begins.empty());
    EXPECT_TRUE(contoursIn(waiting.b, waiting.zone).begins.empty());
    Progress cancelled;
    cancelled.cancel();
    Store store;
    const Flat circle = nearCircle();
    const auto result = circle.b.result();
    EXPECT_THROW(contoursOf(circle.b.scene, circle.zone, *result, {}, store, cancelled), Cancelled);
}
