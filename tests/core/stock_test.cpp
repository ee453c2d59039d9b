// What instances repeat, how large it is, and what overlaps.
#include <gtest/gtest.h>

#include <rapidcheck.h>
#include <rapidcheck/gtest.h>
#include <numbers>

#include <chrono>
#include <cmath>
#include <future>
#include <map>

#include "core/base/error.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/fit.h"
#include "core/read/overlaps.h"
#include "core/shape/homes.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::Build;

namespace {

using std::numbers::pi;

/// A further entry of the stock with a shape of its own.
ObjectId addEntry(Build& b, const std::string& kind, const std::string& name) {
    Edit edit = addShape(b.scene, *findKind(Family::shape, kind));
    b.scene = rename(edit.scene, edit.made, name).scene;
    edit = addStock(b.scene, b.swarm, edit.made);
    b.scene = edit.scene;
    return edit.made;
}

int overlapping(const Build& b) {
    Progress progress;
    return countOverlaps(*b.result(), progress);
}

/// Unit boxes with sharp edges.
Build boxes(int nx, int ny, int nz) {
    Build b = Build::grid(nx, ny, nz);
    b.set(b.shape, "rounding", {0});
    return b;
}

}  // namespace

TEST(Stock, TakesTurns) {
    Build b = Build::grid(3, 1, 3);
    b.scene = rename(b.scene, b.shape, "A").scene;
    addEntry(b, "ball", "B");
    addEntry(b, "cone", "C");
    for (const auto& row : b.rows()) EXPECT_EQ(row.shape, std::string(1, static_cast<char>('A' + row.number % 3)));
    b.scene = moveInList(b.scene, b.stock, 2).scene;
    EXPECT_EQ(b.rows()[0].shape, "B");
    EXPECT_EQ(b.rows()[2].shape, "A");
}

TEST(Stock, ChanceKeepsTheOddsAndStaysWithItsInstance) {
    Build b = Build::grid(60, 1, 60);
    b.scene = rename(b.scene, b.shape, "A").scene;
    const ObjectId rare = addEntry(b, "ball", "B");
    const ObjectId never = addEntry(b, "cone", "C");
    b.choose(b.swarm, "stock-rule-by", "chance").set(rare, "odds", {0.25}).set(never, "odds", {0});
    std::map<std::string, int> count;
    std::map<std::uint64_t, std::string> chosen;
    for (const auto& row : b.rows()) ++count[row.shape], chosen[row.id] = row.shape;
    EXPECT_EQ(count["C"], 0);
    EXPECT_NEAR(count["B"], 3600 * 0.2, 4 * std::sqrt(3600 * 0.2 * 0.8));
    b.set(b.formation, "count", {62, 1, 62});
    for (const auto& row : b.rows())
        if (const auto before = chosen.find(row.id); before != chosen.end()) {
            EXPECT_EQ(row.shape, before->second);
        }
    b.set(b.stock, "odds", {0}).set(rare, "odds", {0});
    EXPECT_THROW(b.plan(), Error);
}

TEST(Stock, APatternChoosesByItsValue) {
    Build b = Build::grid(10, 1, 1);
    b.scene = rename(b.scene, b.shape, "A").scene;
    const ObjectId second = addEntry(b, "ball", "B");
    b.choose(b.swarm, "stock-rule-by", "pattern").set(second, "odds", {3});
    b.scene = setKind(b.scene, b.swarm, "stockPattern", *findKind(Family::pattern, "alongAxis")).scene;
    // 0 … 1 along X, the first quarter is A's.
    for (const auto& row : b.rows()) EXPECT_EQ(row.shape, row.number / 9.0 < 0.25 ? "A" : "B") << row.number;
}

TEST(Stock, OneThatLostItsShapeSaysSo) {
    Build b;
    b.scene = remove(b.scene, b.shape).scene;
    EXPECT_THROW(b.plan(), Error);
}

TEST(Fit, NeighbouringUnitBoxesTouchAndDoNotOverlap) {
    Build b = boxes(5, 4, 3);
    b.set(b.formation, "spacing", {1.3, 1.3, 1.3}).set(b.swarm, "stock-rule-fit", true);
    EXPECT_FLOAT_EQ(b.rows()[0].scale.x, 1.3f);
    EXPECT_EQ(overlapping(b), 0);
    b.set(b.swarm, "stock-rule-gap", {10});
    EXPECT_FLOAT_EQ(b.rows()[0].scale.x, 1.17f);
    b.set(b.swarm, "stock-rule-gap", {-0.5});
    EXPECT_EQ(overlapping(b), 60);
}

RC_GTEST_PROP(Fit, WhateverTheSpacingNothingOverlapsAtGapZeroAndAllDoALittleBeyond, ()) {
    const std::string kind = *rc::gen::element(std::string("grid"), std::string("hexagons"), std::string("closePacking"),
                                               std::string("ring"), std::string("cells"));
    const std::string shape = *rc::gen::element(std::string("box"), std::string("ball"), std::string("regularSolid"), std::string("cone"));
    const double spacing = *rc::gen::inRange(2, 30) / 10.0;
    Build b = boxes(4, 2, 4);
    if (kind == "cells") {
        const ObjectId solid = b.standOn("cells", "box");
        b.set(solid, "size", {4 * spacing, 3 * spacing, 3 * spacing}).choose(b.formation, "anchor", "corner");
    } else {
        b.formationKind(kind);
    }
    if (kind == "grid") b.set(b.formation, "count", {4, 2, 4}).set(b.formation, "spacing", {spacing, spacing * 1.5, spacing});
    if (kind == "hexagons") b.set(b.formation, "rings", {2});
    if (kind == "closePacking") b.set(b.formation, "count", {3, 3, 3});
    if (kind == "ring") b.set(b.formation, "radius", {spacing * 3});
    if (kind != "grid" && kind != "ring") b.set(b.formation, "spacing", {spacing});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, shape)).scene;
    b.set(b.swarm, "stock-rule-fit", true);
    RC_ASSERT(overlapping(b) == 0);
    b.set(b.swarm, "stock-rule-gap", {-3});
    RC_ASSERT(overlapping(b) > 0);
}

TEST(Fit, HexagonalTilesFillHexagons) {
    Build b;
    b.formationKind("hexagons").set(b.formation, "rings", {3}).set(b.formation, "spacing", {2}).set(b.swarm, "stock-rule-fit", true);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "tube")).scene;
    b.set(b.shape, "sides", {6}).set(b.shape, "wall", {0.5}).set(b.shape, "radius", {0.5});
    // Flat to flat of a hexagon with corners at ½ is √3 / 2; its corners point along Z.
    EXPECT_NEAR(b.rows()[0].scale.x, 2 / (std::sqrt(3) / 2), 1e-4);
    EXPECT_EQ(overlapping(b), 0);
}

TEST(Fit, WithoutASpacingTheStockKeepsItsSizeAndItIsSaid) {
    Build b;
    b.formationKind("loose").set(b.swarm, "stock-rule-fit", true);
    const Plan plan = b.plan();
    EXPECT_FLOAT_EQ(plan.stock.variants[0].size, 1);
    ASSERT_EQ(plan.notes.size(), 1u);
    EXPECT_NE(plan.notes[0].find("no spacing of its own"), std::string::npos);
}

TEST(Overlaps, AgreesWithBallsAgainstTheirDistances) {
    Build b;
    b.formationKind("loose").set(b.formation, "count", {400}).set(b.formation, "size", {8, 8, 8});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "ball")).scene;
    b.set(b.shape, "sides", {64}).set(b.shape, "rings", {32}).set(b.shape, "radius", {0.5});
    const auto rows = b.rows();
    int least = 0, most = 0;
    for (const auto& one : rows) {
        float nearest = 1e30f;
        for (const auto& other : rows)
            if (other.id != one.id) nearest = std::min(nearest, glm::distance(one.position, other.position));
        least += nearest < 0.99f;
        most += nearest < 1.0f;
    }
    const int counted = overlapping(b);
    EXPECT_GE(counted, least);
    EXPECT_LE(counted, most);
    EXPECT_GT(least, 50);
}

TEST(Overlaps, ARingAroundABallIsNotOneUntilTheyTouchAndAWholeInsideIs) {
    const auto count = [](double radius, const char* outer) {
        Build b = Build::grid(1, 1, 1);
        b.formationKind("line").set(b.formation, "count", {2}).set(b.formation, "step", {0, 0, 0});
        b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, outer)).scene;
        b.set(b.shape, "radius", {2});
        if (std::string(outer) == "ring") b.set(b.shape, "thickness", {0.5});
        const ObjectId ball = addEntry(b, "ball", "B");
        b.choose(ball, "foot", "centre");
        const ObjectId shape = b.scene.all(ObjectType::shape)[1];
        b.set(shape, "radius", {radius});
        return overlapping(b);
    };
    EXPECT_EQ(count(1.6, "ring"), 0);
    EXPECT_EQ(count(1.8, "ring"), 2);
    EXPECT_EQ(count(0.5, "ball"), 2);  // one within the other
}

TEST(Overlaps, TurnedBoxesAreToldByTheirCorners) {
    Build b = boxes(2, 1, 1);
    b.set(b.formation, "spacing", {1.3, 1, 1}).set(b.formation, "standing-turn", {45});
    EXPECT_EQ(overlapping(b), 2);  // corners reach √½ each
    b.set(b.formation, "spacing", {1.42, 1, 1});
    EXPECT_EQ(overlapping(b), 0);
}

TEST(Homes, AreTheSameBitsForAnyNumberOfThreads) {
    for (const char* kind : {"randomOnMesh", "evenlySpaced", "cells"}) {
        Build b;
        b.standOn(kind, "ball");
        if (std::string(kind) == "cells") b.set(b.formation, "spacing", {0.05});
        b.set(b.formation, "standing-randomTurn", {90});
        const auto one = b.result(0, 1), three = b.result(0, 3);
        EXPECT_EQ(one->columns->matrix, three->columns->matrix) << kind;
    }
}

TEST(Overlaps, AreNoLongerLookedForOnceCancelled) {
    // Thin rings turned in each other, few of which meet: pairs without number that boxes don't tell apart, half an hour of work.
    Build b = Build::grid(20000, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "ring")).scene;
    b.set(b.shape, "radius", {1}).set(b.shape, "thickness", {0.0004}).set(b.shape, "sides", {200});
    b.set(b.formation, "spacing", {0, 0, 0});
    const auto add = [&](const PatternKind& pattern) {
        const Edit edit = addGesture(b.scene, b.swarm, standardObject(ObjectType::gesture, "Gesture", {&changeGesture, &pattern}));
        b.scene = edit.scene;
        return edit.made;
    };
    b.set(add(numberPattern), "scale", true).set(b.scene.all(ObjectType::gesture).back(), "scaleAmount", {60, 60, 60});
    b.set(add(randomPattern), "rotation", true).set(b.scene.all(ObjectType::gesture).back(), "rotationAmount", {180, 180, 180});
    const auto result = b.result();
    Progress progress;
    auto counted = std::async(std::launch::async, [&] { return countOverlaps(*result, progress); });
    EXPECT_EQ(counted.wait_for(std::chrono::milliseconds(300)), std::future_status::timeout) << "there is much to do";
    progress.cancel();
    EXPECT_EQ(counted.wait_for(std::chrono::seconds(20)), std::future_status::ready);
    EXPECT_THROW(counted.get(), Cancelled);
}
