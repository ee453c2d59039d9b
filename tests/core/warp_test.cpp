// Warps: their closed forms, and what they do to instances against the space around them by finite differences.
#include <gtest/gtest.h>

#include <hwy/targets.h>
#include <cmath>
#include <fstream>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat3x3.hpp>
#include <random>

#include "core/edit/edit.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/shape/shape_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::dmat3, glm::dvec3, glm::vec3;
using making::Build;

namespace {

constexpr float halfTurn = 180 * making::degree;

/// A swarm of the places given, not turned, with one warp.
struct Warped {
    Build b;
    ObjectId warp;

    Warped(const std::vector<vec3>& places, const GestureKind& kind) {
        static int tables = 0;
        const std::string name = "places-" + std::to_string(tables++) + ".csv";
        std::ofstream table(making::temporaryFolder() / name);
        table.precision(9);
        table << "x,y,z\n";
        for (const vec3& p : places) table << p.x << ',' << p.y << ',' << p.z << '\n';
        table.close();
        b.formationKind("pointsFile").choose(b.formation, "file", name);
        warp = b.gesture();
        b.scene = setKind(b.scene, warp, "change", kind).scene;
    }
    std::vector<InstanceRow> rows() const {
        std::vector<InstanceRow> all;
        readInstances(b.plan(0, making::temporaryFolder()), b.scene, [&](const InstanceRow& row) { return all.push_back(row), true; });
        return all;
    }
    /// A curve shape for what is laid along one.
    ObjectId addCurve(const ShapeKind& kind) {
        const Edit made = addShape(b.scene, kind);
        b.scene = made.scene;
        b.set(warp, "curve", Value(made.made));
        return made.made;
    }
};

/// The turn of the polar decomposition (Higham 1986: the mean of a matrix and its inverse's transpose, again and again).
glm::dquat polarTurn(dmat3 m) {
    for (int k = 0; k < 60; ++k) m = (m + glm::transpose(glm::inverse(m))) * 0.5;
    return glm::quat_cast(m);
}

struct Case {
    const char* name;
    const GestureKind& kind;
    std::function<void(Warped&)> set;
    double precision = 6e-3;  ///< of stretches
};
std::vector<Case> cases() {
    return {{"bend", bendGesture,
             [](Warped& w) {
                 w.b.set(w.warp, "angle", {70}).set(w.warp, "rotation", {0, 30, 0});
             }},
            {"bend along x", bendGesture,
             [](Warped& w) {
                 w.b.set(w.warp, "rotation", {0, 0, -90}).set(w.warp, "angle", {-50});
             }},
            {"twist", twistGesture,
             [](Warped& w) {
                 w.b.set(w.warp, "angle", {200}).set(w.warp, "centre", {0.2, 0.1, -0.3});
             }},
            {"twist along z", twistGesture,
             [](Warped& w) {
                 w.b.set(w.warp, "rotation", {90, 20, 0}).set(w.warp, "angle", {-90});
             }},
            {"taper", taperGesture, [](Warped& w) { w.b.set(w.warp, "end", {30}).set(w.warp, "bulge", {25}); }},
            {"ball", roundGesture, [](Warped& w) { w.b.set(w.warp, "share", {60}); }},
            {"tube", roundGesture, [](Warped& w) { w.b.set(w.warp, "share", {60}).choose(w.warp, "onto", "tube"); }},
            {"box", roundGesture, [](Warped& w) { w.b.set(w.warp, "share", {60}).choose(w.warp, "onto", "box"); }},
            {"squash", squashGesture,
             [](Warped& w) {
                 w.b.set(w.warp, "rotation", {0, 0, -90});
             }},
            {"curl", curlGesture,
             [](Warped& w) {
                 // Drawn with few points it is bent unevenly.
                 const ObjectId helix = w.addCurve(helixShape);
                 w.b.set(helix, "radius", {3}).set(w.warp, "slide", {20}).set(w.warp, "roll", {20});
             },
             0.08}};
}

}  // namespace

TEST(Warp, InstancesTurnAndStretchAsTheSpaceAroundThem) {
    std::mt19937 random(7);
    std::uniform_real_distribution<float> within(-0.55f, 0.55f);
    constexpr float step = 4e-3f;
    std::vector<vec3> places;
    constexpr int count = 40;
    for (int k = 0; k < count; ++k) {
        const vec3 p(within(random), within(random), within(random));
        places.push_back(p);
        for (int axis = 0; axis < 3; ++axis)
            for (const float side : {-step, step}) {
                places.push_back(p);
                places.back()[axis] += side;
            }
    }
    for (const Case& one : cases()) {
        Warped w(places, one.kind);
        w.b.set(w.warp, "sizes", true);
        one.set(w);
        const auto rows = w.rows();
        ASSERT_EQ(rows.size(), places.size()) << one.name;
        int compared = 0;
        for (std::size_t k = 0; k < count; ++k) {
            dmat3 jacobian;
            for (int axis = 0; axis < 3; ++axis)
                jacobian[axis] = (dvec3(rows[7 * k + 2 + 2 * axis].position) - dvec3(rows[7 * k + 1 + 2 * axis].position)) / (2.0 * step);
            // Where space is folded over, or a difference reaches over an edge of a box, there is no nearest turn to compare.
            if (glm::determinant(jacobian) < 0.02) continue;
            const vec3 p = places[7 * k];
            const float largest = std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)});
            const int near = (largest - std::abs(p.x) < 0.02f) + (largest - std::abs(p.y) < 0.02f) + (largest - std::abs(p.z) < 0.02f);
            if (std::string(one.name) == "box" && near > 1) continue;
            ++compared;
            const glm::dquat turn = polarTurn(jacobian);
            EXPECT_GT(std::abs(glm::dot(turn, glm::dquat(rows[7 * k].rotation))), 1 - 2e-5) << one.name << " " << k;
            for (int axis = 0; axis < 3; ++axis)
                EXPECT_NEAR(rows[7 * k].scale[axis], glm::length(jacobian[axis]), one.precision) << one.name << " " << k << " " << axis;
        }
        EXPECT_GT(compared, 20) << one.name;
    }
}

TEST(Warp, WeightZeroLeavesEveryBitAndHalfGoesHalfway) {
    std::vector<vec3> places;
    for (int k = 0; k < 30; ++k) places.push_back({0.07f * static_cast<float>(k) - 1, 0.05f * static_cast<float>(k % 7), 0.3f});
    for (const Case& one : cases()) {
        Warped w(places, one.kind);
        w.b.set(w.warp, "sizes", true);
        one.set(w);
        const auto whole = w.rows();
        w.b.set(w.warp, "strength", {50});
        const auto half = w.rows();
        w.b.set(w.warp, "strength", {0});
        const auto none = w.rows();
        for (std::size_t i = 0; i < places.size(); ++i) {
            EXPECT_EQ(none[i].position, places[i]) << one.name;
            EXPECT_EQ(none[i].rotation, glm::quat(1, 0, 0, 0)) << one.name;
            EXPECT_EQ(none[i].scale, vec3(1)) << one.name;
            making::expectNear(half[i].position, (whole[i].position + places[i]) * 0.5f, 2e-5f);
            for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(half[i].scale[axis], std::sqrt(whole[i].scale[axis]), 1e-4f) << one.name;
            // Twice the half turn is the whole one.
            EXPECT_GT(std::abs(glm::dot(half[i].rotation * half[i].rotation, whole[i].rotation)), 1 - 1e-5f) << one.name;
        }
    }
}

TEST(Warp, BendKeepsTheLengthOfItsAxis) {
    std::vector<vec3> places;
    for (int k = -10; k <= 10; ++k) places.push_back({0, 0.2f * static_cast<float>(k), 0});
    Warped w(places, bendGesture);
    w.b.set(w.warp, "from", {-1}).set(w.warp, "to", {1}).set(w.warp, "angle", {90});
    const auto rows = w.rows();
    const float curvature = halfTurn / 2 / 2;
    for (std::size_t i = 0; i + 1 < rows.size(); ++i) {
        const float chord = glm::distance(rows[i].position, rows[i + 1].position);
        const bool inside = std::abs(places[i].y) < 1.01f && std::abs(places[i + 1].y) < 1.01f;
        EXPECT_NEAR(chord, inside ? 2 / curvature * std::sin(curvature * 0.1f) : 0.2f, 2e-5f) << i;
    }
    making::expectNear(rows[10].position, {0, 0, 0});
    // The upper limit is on the circle, turned by half the angle; beyond it goes straight on.
    making::expectNear(rows[15].position, {(1 - std::cos(halfTurn / 4)) / curvature, std::sin(halfTurn / 4) / curvature, 0}, 2e-6f);
    making::expectNear(rows[20].position - rows[15].position, vec3(std::sin(halfTurn / 4), std::cos(halfTurn / 4), 0), 2e-5f);
    EXPECT_NEAR(std::abs(glm::dot(rows[20].rotation, glm::angleAxis(-halfTurn / 4, vec3(0, 0, 1)))), 1, 1e-6f);
}

TEST(Warp, TwistKeepsTheDistanceFromItsAxis) {
    std::vector<vec3> places;
    for (int k = 0; k < 50; ++k) places.push_back({0.1f * static_cast<float>(k), 0.09f * static_cast<float>(k) - 2, 1});
    Warped w(places, twistGesture);
    w.b.set(w.warp, "angle", {360});
    const auto rows = w.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_NEAR(std::hypot(rows[i].position.x, rows[i].position.z), std::hypot(places[i].x, places[i].z), 1e-5f);
        EXPECT_EQ(rows[i].position.y, places[i].y);
    }
    EXPECT_NEAR(rows[0].position.x, places[0].x * std::cos(-halfTurn) + places[0].z * std::sin(-halfTurn), 1e-5f) << "held below its limit";
}

TEST(Warp, RoundAllTheWayPutsEveryPlaceOnTheSurface) {
    std::vector<vec3> places{{0, 0, 0}};
    for (int k = 1; k < 60; ++k)
        places.push_back({std::sin(static_cast<float>(k)) * 3, std::cos(1.7f * static_cast<float>(k)), 0.1f * static_cast<float>(k)});
    for (const char* to : {"ball", "tube", "box"}) {
        Warped w(places, roundGesture);
        w.b.choose(w.warp, "onto", to).set(w.warp, "radius", {1.5}).set(w.warp, "sizes", true);
        for (const auto& row : w.rows()) {
            const vec3 p = row.position;
            const float reached = to == std::string("ball")   ? glm::length(p)
                                  : to == std::string("tube") ? std::hypot(p.x, p.z)
                                                              : std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)});
            EXPECT_NEAR(reached, 1.5f, 1e-5f) << to;
            for (int axis = 0; axis < 3; ++axis) EXPECT_TRUE(std::isfinite(row.scale[axis])) << to;
        }
    }
}

TEST(Warp, TaperIsAsWideAsItSaysAndSquashKeepsTheVolume) {
    const std::vector<vec3> places{{1, -2, 0}, {1, -1, 0}, {1, 0, 0}, {0, 1, 1}, {0, 5, 1}};
    Warped taper(places, taperGesture);
    taper.b.set(taper.warp, "end", {40}).set(taper.warp, "bulge", {20});
    const auto narrow = taper.rows();
    const float width[] = {1, 1, 0.9f, 0.4f, 0.4f};
    for (std::size_t i = 0; i < 5; ++i) EXPECT_NEAR(std::hypot(narrow[i].position.x, narrow[i].position.z), width[i], 1e-6f) << i;

    Warped squash(places, squashGesture);
    squash.b.set(squash.warp, "height", {25}).set(squash.warp, "sizes", true);
    for (const auto& row : squash.rows()) {
        EXPECT_NEAR(row.scale.x * row.scale.y * row.scale.z, 1, 1e-5f);
        EXPECT_NEAR(row.scale.y, 0.25f, 1e-6f);
    }
    making::expectNear(squash.rows()[3].position, {0, 0.25f, 2});
}

TEST(Warp, CurlAlongACircleIsABendAndAlongALineNothing) {
    std::vector<vec3> places;
    for (int k = 0; k < 20; ++k) places.push_back({0.02f * static_cast<float>(k % 5), 0.1f * static_cast<float>(k) - 1, 0.05f});
    Warped curl(places, curlGesture);
    const ObjectId circle = curl.addCurve(circleShape);
    curl.b.set(circle, "radius", {2});
    const auto rows = curl.rows();
    for (std::size_t i = 0; i < rows.size(); ++i) {
        // Each stays as far from the circle as it was from the axis.
        const float along = std::hypot(rows[i].position.x, rows[i].position.z);
        const float away = std::hypot(along - 2, rows[i].position.y);
        EXPECT_NEAR(away, std::hypot(places[i].x, places[i].z), 2e-4f) << i;
        // Those on the axis are as far apart along the circle as they were.
        if (i >= 5 && i % 5 == 0) {
            EXPECT_NEAR(glm::distance(rows[i].position, rows[i - 5].position), 2 * 2 * std::sin(0.5f / 2 / 2), 0.03f) << i;
        }
    }
    // Past the end of an open curve it goes straight on.
    Warped on({{0, -1, 0}, {0, 20, 0}, {0, 21, 0}}, curlGesture);
    on.addCurve(lineShape);
    const auto past = on.rows();
    EXPECT_NEAR(glm::distance(past[1].position, past[2].position), 1, 1e-4f);
}

TEST(Warp, WhatIsNoCurveIsToldAndTheRestGoesOn) {
    Warped w({{0, 0, 0}, {1, 0, 0}}, curlGesture);
    w.addCurve(ballShape);
    const Plan plan = w.b.plan(0, making::temporaryFolder());
    EXPECT_NE(plan.cards.front().waits.find("no curve"), std::string::npos) << plan.cards.front().waits;
    const auto rows = w.rows();
    ASSERT_EQ(rows.size(), 2u);
    EXPECT_EQ(rows[1].position, vec3(1, 0, 0));
}

TEST(Warp, EveryTargetGivesTheSameBits) {
    std::vector<vec3> places;
    for (int k = 0; k < 700; ++k)
        places.push_back({std::sin(static_cast<float>(k)), std::cos(1.3f * static_cast<float>(k)), 0.003f * static_cast<float>(k) - 1});
    for (const Case& one : cases()) {
        Warped w(places, one.kind);
        w.b.set(w.warp, "sizes", true);
        one.set(w);
        std::vector<InstanceRow> first;
        const std::int64_t all = hwy::SupportedTargets();
        for (std::int64_t left = all; left != 0; left &= left - 1) {
            hwy::SetSupportedTargetsForTest(left & -left);
            const auto rows = w.rows();
            if (first.empty()) first = rows;
            for (std::size_t i = 0; i < rows.size(); ++i) {
                EXPECT_EQ(rows[i].position, first[i].position) << one.name << " " << hwy::TargetName(left & -left);
                EXPECT_EQ(rows[i].rotation, first[i].rotation) << one.name;
                EXPECT_EQ(rows[i].scale, first[i].scale) << one.name;
            }
        }
        hwy::SetSupportedTargetsForTest(0);
    }
}
