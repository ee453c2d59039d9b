// New zones and gestures are made to the measure of the swarm they act on.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/arrange/fitted_edits.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

namespace gswarm {
namespace {

using making::Build;

double numberOf(const Scene& scene, ObjectId object, const char* parameter, int component = 0) {
    return std::get<Numbers>(valueOf(scene, addressOf(scene, object, parameter)))[static_cast<std::size_t>(component)].value;
}

ObjectId zoneFitted(Build& b, const char* kind = "ball") {
    const ObjectId gesture = b.gesture();
    const Edit edit = addZoneFitted(b.scene, gesture, *findKind(Family::zone, kind), b.result().get());
    b.scene = edit.scene;
    return edit.made;
}

ObjectId start(Build& b, const char* id, const std::vector<std::uint64_t>& chosen = {}) {
    for (const GestureStart& s : gestureStarts())
        if (s.id == id) {
            const Edit edit = addGestureStart(b.scene, b.swarm, s, chosen, b.result().get());
            b.scene = edit.scene;
            return edit.made;
        }
    ADD_FAILURE() << "no start " << id;
    return {};
}

TEST(FittedZone, KeepsItsStandardSizeForTheFirstGrid) {
    Build b;  // 12.5 m wide
    const ObjectId zone = zoneFitted(b);
    EXPECT_EQ(numberOf(b.scene, zone, "radius"), 3);
    EXPECT_EQ(numberOf(b.scene, zone, "softEdge"), 2);
}

TEST(FittedZone, GrowsAndShrinksInRoundSteps) {
    Build large = Build::grid(101, 1, 41);  // half 50 m: 8.3 times the standard, the nearest step is 7
    const ObjectId zone = zoneFitted(large);
    EXPECT_EQ(numberOf(large.scene, zone, "radius"), 21);
    EXPECT_EQ(numberOf(large.scene, zone, "softEdge"), 14);
    Build small = Build::grid(11, 1, 11);
    small.set(small.formation, "spacing", {0.01, 0.01, 0.01});  // half 5 cm: a hundredth and a fifth less
    const ObjectId box = zoneFitted(small, "box");
    for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(numberOf(small.scene, box, "size", axis), 4 * 0.007, 1e-9);
}

TEST(FittedZone, StandsInTheMiddleOfTheSwarmInTheWorld) {
    Build b = Build::grid(11, 1, 11);
    b.set(b.formation, "anchor", Value(std::string("corner")));
    b.set(b.swarm, "position", {10, 2, 0}).set(b.swarm, "rotation", {0, 90, 0}).set(b.swarm, "scale", {2});
    const glm::vec3 middle = b.result()->pose.toWorld(b.result()->home.bounds.centre());
    ASSERT_GT(glm::length(middle - glm::vec3(10, 2, 0)), 5);
    const ObjectId zone = zoneFitted(b);
    for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(numberOf(b.scene, zone, "position", axis), middle[axis], 1e-3);
    EXPECT_EQ(numberOf(b.scene, zone, "radius"), 4.5);  // half 10 m
}

TEST(FittedZone, EveryKindActsOnSomeButNotAll) {
    for (const char* kind : {"ball", "box", "slab", "tube", "cone", "ring", "nearest", "noise"})
        for (const double spacing : {0.02, 1.25, 40.0}) {
            Build b = Build::grid(15, 15, 15);
            b.set(b.formation, "spacing", {spacing, spacing, spacing}).set(b.swarm, "position", {7, -3, 900});
            const ObjectId zone = zoneFitted(b, kind);
            const ObjectId gesture = b.scene.all(ObjectType::gesture).front();
            b.set(gesture, "position", Value(true)).set(gesture, "positionAmount", {0, 1, 0});
            const auto result = b.result();
            ASSERT_TRUE(zone);
            EXPECT_GT(result->cards.front().touched, 0) << kind << ' ' << spacing;
            EXPECT_LT(result->cards.front().least, 0.5) << kind << ' ' << spacing;
        }
}

TEST(FittedZone, StaysWithTheShapeItFollows) {
    Build b = Build::grid(11, 1, 11);
    b.set(b.swarm, "position", {10, 2, 0});
    const ObjectId zone = zoneFitted(b, "nearCurve");
    for (int axis = 0; axis < 3; ++axis) EXPECT_EQ(numberOf(b.scene, zone, "position", axis), 0);
}

TEST(FittedZone, WithoutAResultItBeginsWithItsStandardSize) {
    Build b = Build::grid(200, 1, 200);
    const ObjectId gesture = b.gesture();
    const Edit edit = addZoneFitted(b.scene, gesture, ballZone, nullptr);
    EXPECT_EQ(numberOf(edit.scene, edit.made, "radius"), 3);
}

TEST(FittedStart, RowsFollowEachOtherEvenlyWhereTheyWrap) {
    for (const char* formation : {"grid", "hexagons"}) {
        Build b;
        b.formationKind(formation);
        const auto before = b.rows();
        double least = 1e9;
        for (std::size_t i = 1; i < before.size(); ++i)
            least = std::min(least, double(glm::distance(before[0].position, before[i].position)));
        b.set(start(b, "stream"), "laps", {1, 0, -2});
        for (const double frame : {0.0, 17.0, 60.5, 124.0}) {
            const auto rows = b.rows(frame);
            double now = 1e9;
            for (std::size_t i = 0; i < rows.size(); ++i)
                for (std::size_t j = 0; j < i; ++j) now = std::min(now, double(glm::distance(rows[i].position, rows[j].position)));
            EXPECT_NEAR(now, least, 2e-3) << formation << " at " << frame;
        }
    }
}

TEST(FittedStart, TheHeroIsTheInstanceInTheMiddleOfASwarmThatStandsElsewhere) {
    Build b = Build::grid(5, 1, 5);
    b.set(b.swarm, "position", {100, 0, 0});
    start(b, "hero");
    const auto rows = b.rows();
    int large = 0;
    for (const InstanceRow& row : rows)
        if (row.scale.x > 1) {
            ++large;
            EXPECT_NEAR(row.position.x, 100, 1e-4);
            EXPECT_NEAR(row.position.z, 0, 1e-4);
        }
    EXPECT_EQ(large, 1);
}

}  // namespace
}  // namespace gswarm
