// Along curves: one or many, of shapes and of swarms, and the numbers on them.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/edit/rail_edits.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/read/table.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::Build;
using making::byId;

namespace {

/// A line of 2 m along X with three instances a metre apart, and one of 1 m with two.
struct TwoLines {
    Build b = Build::grid(1, 1, 1);
    TwoLines() {
        const ObjectId line = b.standOn("alongCurve", "line");
        b.set(line, "from", {0, 0, 0}).set(line, "to", {2, 0, 0});
        const Edit made = addShape(b.scene, *findKind(Family::shape, "line"));
        b.scene = made.scene;
        b.set(made.made, "from", {5, 0, 0}).set(made.made, "to", {6, 0, 0});
        b.set(b.formation, "second", Value(made.made)).choose(b.formation, "measure", "spacing").set(b.formation, "spacing", {1});
    }
    /// How far up each is moved by a formula.
    std::vector<float> raised(const char* formula) const {
        Build with = b;
        const ObjectId g = with.gesture("formula");
        with.set(g, "pattern-value", Value(boundFormula(with.scene, formula))).set(g, "position", true);
        with.set(g, "positionAmount", {0, 1, 0}).choose(g, "positionAxes", "swarm");
        std::vector<float> heights;
        for (const auto& row : with.rows()) heights.push_back(row.position.y);
        return heights;
    }
};

}  // namespace

TEST(AlongCurve, IsEvenByArcLengthWithinATenthOfAPercent) {
    for (const char* kind : {"helix", "circle", "path", "line"}) {
        Build b;
        const ObjectId curve = b.standOn("alongCurve", kind);
        b.set(curve, "steps", {400}).set(b.formation, "count", {41});
        const MeasuredCurve measured(making::shape(kind, {{"steps", {400}}}).curves[0]);
        const double step = measured.length() / (measured.closed() ? 41 : 40);
        for (const auto& row : b.rows()) {
            const auto nearest = measured.nearestTo(row.position);
            EXPECT_NEAR(nearest.away, 0, 1e-5) << kind;
            double off = nearest.distance - step * row.number;
            if (measured.closed()) off -= std::round(off / measured.length()) * measured.length();
            EXPECT_LT(std::abs(off), 0.001 * step) << kind << " " << row.number;
        }
    }
}

TEST(AlongCurve, SlideWrapsAndIdsStay) {
    Build b;
    b.standOn("alongCurve", "circle");
    b.set(b.formation, "count", {12});
    const auto still = byId(b.rows());
    b.set(b.formation, "slide", {100.0 / 12});
    const auto slid = byId(b.rows());
    for (const auto& [id, place] : slid) EXPECT_LT(glm::distance(place, still.at((id + 1) % 12)), 1e-4f);
    b.set(b.formation, "slide", {100});
    for (const auto& [id, place] : byId(b.rows())) EXPECT_LT(glm::distance(place, still.at(id)), 1e-4f);
}

TEST(AlongCurve, SeveralCurvesEachOrTogether) {
    // A line of 2 m along X, one of 1 m along Z, and a circle.
    Build b = Build::grid(1, 1, 1);
    const ObjectId line = b.standOn("alongCurve", "line");
    b.set(line, "from", {0, 0, 0}).set(line, "to", {2, 0, 0});
    const auto add = [&](const char* kind) {
        const Edit made = addShape(b.scene, *findKind(Family::shape, kind));
        b.scene = made.scene;
        return made.made;
    };
    const ObjectId other = add("line");
    b.set(other, "from", {5, 0, 0}).set(other, "to", {5, 0, 1});
    b.set(b.formation, "second", Value(other)).set(b.formation, "count", {7});
    auto rows = b.rows();
    ASSERT_EQ(rows.size(), 14u);
    making::expectNear(rows[6].position, {2, 0, 0});
    making::expectNear(rows[7].position, {5, 0, 0});
    making::expectNear(rows[13].position, {5, 0, 1});
    b.choose(b.formation, "over", "all");
    rows = b.rows();
    ASSERT_EQ(rows.size(), 7u);
    for (int k = 0; k < 7; ++k) making::expectNear(rows[k].position, k <= 4 ? glm::vec3(0.5f * k, 0, 0) : glm::vec3(5, 0, 0.5f * k - 2));
    EXPECT_EQ(making::byId(rows).size(), 7u);
    // By spacing the step goes on over the gap; sliding moves through all.
    b.choose(b.formation, "measure", "spacing").set(b.formation, "spacing", {0.4});
    rows = b.rows();
    ASSERT_EQ(rows.size(), 8u);
    making::expectNear(rows[5].position, {2, 0, 0});
    making::expectNear(rows[7].position, {5, 0, 0.8f});
    b.set(b.formation, "slide", {50});
    making::expectNear(b.rows()[3].position, {5, 0, 0.7f});
    // Closed curves together go around: the last does not fall on the first.
    const ObjectId circle = add("circle"), ring = add("circle");
    b.set(ring, "radius", {1});
    b.set(b.formation, "slide", {0}).set(b.formation, "shape", Value(circle)).set(b.formation, "second", Value(ring));
    b.choose(b.formation, "measure", "count").set(b.formation, "count", {6});
    rows = b.rows();
    ASSERT_EQ(rows.size(), 6u);
    for (std::size_t i = 0; i < 6; ++i)
        for (std::size_t k = 0; k < i; ++k) EXPECT_GT(glm::distance(rows[i].position, rows[k].position), 0.5f) << i << k;
}

TEST(AlongCurve, SaysWhenTheShapeHasNoCurve) {
    Build b;
    b.standOn("alongCurve", "box");
    EXPECT_THROW(b.plan(), Error);
}

TEST(AlongCurve, NumbersRunOnOrBeginAnewWithEachCurve) {
    TwoLines two;
    using Heights = std::vector<float>;
    EXPECT_EQ(two.raised("i"), (Heights{0, 1, 2, 3, 4}));
    EXPECT_EQ(two.raised("share"), (Heights{0, 0.25f, 0.5f, 0.75f, 1}));
    two.b.choose(two.b.formation, "numbers", "anew");
    EXPECT_EQ(two.raised("i"), (Heights{0, 1, 2, 0, 1}));
    EXPECT_EQ(two.raised("share"), (Heights{0, 0.5f, 1, 0, 1}));
    EXPECT_EQ(two.raised("n"), (Heights{3, 3, 3, 2, 2}));
    // They are numbered in the order that the formation gives them, among those that stay.
    two.b.set(two.b.formation, "order-reversed", true);
    EXPECT_EQ(two.raised("i"), (Heights{0, 1, 0, 1, 2}));
    // The swarm itself is counted on: each number stands once.
    int number = 0;
    for (const auto& row : two.b.rows()) EXPECT_EQ(row.number, number++);
}

TEST(AlongCurve, WhatGoesByNumbersGoesByThoseOfTheCurve) {
    TwoLines two;
    two.b.choose(two.b.formation, "numbers", "anew");
    Build b = two.b;
    const ObjectId g = b.gesture("number");
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0}).choose(g, "positionAxes", "swarm");
    std::vector<float> heights;
    for (const auto& row : b.rows()) heights.push_back(row.position.y);
    EXPECT_EQ(heights, (std::vector<float>{0, 0.5f, 1, 0, 1}));
    // Stock by turns begins anew, and so does the share that mixes materials.
    b = two.b;
    b.scene = addStock(b.scene, b.swarm, referenceOf(b.scene.at(b.formation).part("formation"), "shape")).scene;
    const auto result = b.result();
    EXPECT_EQ(result->columns->variant, (std::vector<std::uint16_t>{0, 1, 0, 0, 1}));
    EXPECT_EQ(shareOf(*result, 1), 0.5f);
    EXPECT_EQ(shareOf(*result, 4), 1.0f);
}

TEST(AlongCurve, WhichCurveIsANamedValue) {
    TwoLines two;
    const Edit value = addNamedValue(two.b.scene, two.b.swarm, "Strand");
    two.b.scene = value.scene;
    two.b.set(two.b.formation, "curveNumber", Value(value.made));
    std::vector<float> strands;
    for (const auto& row : two.b.rows()) strands.push_back(row.named.at(0));
    EXPECT_EQ(strands, (std::vector<float>{0, 0, 0, 1, 1}));
    EXPECT_EQ(two.raised("Strand"), strands) << "gestures read it by its name";
}

TEST(AlongCurve, ARehearsalHasTheNumbersOfTheWhole) {
    TwoLines two;
    two.b.set(two.b.formation, "spacing", {0.01}).choose(two.b.formation, "numbers", "anew");
    Evaluator evaluator;
    Progress progress;
    PlanOptions options;
    const auto whole = evaluator.evaluate(two.b.scene, two.b.swarm, 0, options, progress);
    options.rehearsal = 4;
    const auto some = evaluator.evaluate(two.b.scene, two.b.swarm, 0, options, progress);
    ASSERT_LT(some->count, whole->count);
    for (int row = 0; row < some->count; ++row) {
        const int there = some->home.numberOf(row);
        EXPECT_EQ(some->home.orderOf(row), whole->home.orderOf(there));
        EXPECT_EQ(some->home.stretchOf(row), whole->home.stretchOf(there));
    }
}

TEST(AlongCurve, AllCurvesThatASwarmShows) {
    // Three upright lines that a gesture moves apart, in a swarm that stands elsewhere and is seen from one that does, too.
    Build b = Build::grid(3, 1, 1);
    b.set(b.formation, "spacing", {1, 1, 1});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "line")).scene;
    b.set(b.shape, "from", {0, 0, 0}).set(b.shape, "to", {0, 1, 0}).set(b.swarm, "position", {10, 0, 0});
    const ObjectId g = b.gesture();
    b.set(g, "position", true).set(g, "positionAmount", {0, 0, 2}).choose(g, "positionAxes", "swarm");
    const auto lines = b.rows();
    const ObjectId grown = std::exchange(b.swarm, {});
    const Edit beads = addSwarm(b.scene);
    b.scene = beads.scene;
    b.swarm = beads.made;
    b.formation = b.scene.at(b.swarm).list("formations").front();
    b.formationKind("alongCurve").set(b.formation, "shape", Value(grown)).set(b.formation, "count", {5});
    b.set(b.swarm, "position", {0, -1, 0});
    const auto rows = b.rows();
    ASSERT_EQ(rows.size(), 15u);
    EXPECT_EQ(byId(rows).size(), 15u);
    for (std::size_t k = 0; k < 15; ++k) {
        const glm::vec3& line = lines[k / 5].position;
        EXPECT_NEAR(rows[k].position.x, line.x, 1e-5);
        EXPECT_NEAR(rows[k].position.z, line.z, 1e-5);
        if (k % 5 > 0) {
            EXPECT_NEAR(rows[k].position.y - rows[k - 1].position.y, 0.25, 1e-5);
        }
    }
    // A swarm without curves is told, and one that stands on itself.
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "box")).scene;
    EXPECT_THROW(b.plan(), Error);
    EXPECT_THROW(b.set(b.formation, "shape", Value(b.swarm)), Error);
}

TEST(AlongCurve, BeginsOnAPathAlsoWhereThereAreOtherSwarms) {
    Build b = Build::grid(2, 1, 1);
    const Edit other = addSwarm(b.scene);
    b.scene = setFormation(other.scene, b.formation, *findKind(Family::formation, "alongCurve")).scene;
    EXPECT_EQ(referenceOf(b.scene.at(b.formation).part("formation"), "shape").type(), ObjectType::shape);
    EXPECT_FALSE(referenceOf(b.scene.at(b.formation).part("formation"), "second"));
    EXPECT_FALSE(referenceOf(b.scene.at(b.formation).part("formation"), "curveNumber"));
}
