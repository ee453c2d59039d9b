// Surfaces made of curves: revolved and swept.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/shape/curve.h"
#include "core/shape/shape_kind.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using making::expectClosed;
using making::expectSound;
using making::shapeNumber;
using std::numbers::pi;

namespace {

/// A shape of curves, made along them, and with the second ones as its profile where there are some.
Mesh made(const char* kind, const std::vector<Curve>& along, const making::Numbered& numbers = {}, const std::vector<Curve>& profile = {}) {
    ShapeSource source;
    source.shape = [&](ObjectId id) {
        auto meshes = std::make_shared<ShapeMeshes>();
        meshes->level.fill(std::make_shared<const Mesh>());
        meshes->curves = id == shapeNumber(1) ? along : profile;
        return meshes;
    };
    making::Chosen choices{{std::string(kind) == "swept" ? "along" : "profile", toText(shapeNumber(1))}};
    if (!profile.empty()) {
        choices.push_back({"profile", toText(shapeNumber(2))});
        choices.push_back({"section", "curve"});
    }
    return making::mesh(kind, numbers, choices, source);
}

Curve circleOf(float radius, int points, const glm::vec3& middle, const glm::vec3& x, const glm::vec3& y) {
    Curve curve;
    curve.closed = true;
    for (int k = 0; k < points; ++k) {
        const auto turn = static_cast<float>(2 * pi * k / points);
        curve.points.push_back(middle + x * (radius * std::cos(turn)) + y * (radius * std::sin(turn)));
    }
    return curve;
}

}  // namespace

TEST(Revolved, IsClosedAndAsLargeAsItsFormula) {
    // A line beside the axis: a tube with discs; from the axis slanted: a cone; an arch: half a ball's outline, a ball.
    struct Solid {
        const char* name;
        std::vector<glm::vec3> points;
        double volume;
    };
    std::vector<glm::vec3> arch;
    for (int k = 0; k <= 64; ++k)
        arch.push_back({static_cast<float>(std::sin(pi * k / 64)), static_cast<float>(-std::cos(pi * k / 64)), 0});
    for (const Solid& solid : {Solid{"tube", {{1, 0, 0}, {1, 2, 0}}, 2 * pi}, Solid{"downward", {{1, 2, 0}, {1, 0, 0}}, 2 * pi},
                               Solid{"cone", {{1, 0, 0}, {0, 3, 0}}, pi}, Solid{"in any direction", {{0, 0, 1}, {0, 2, 1}}, 2 * pi},
                               Solid{"ball", arch, 4 * pi / 3}}) {
        const Mesh mesh = made("revolved", {{solid.points, false}}, {{"sides", {256}}});
        expectClosed(mesh, solid.name);
        expectSound(mesh, solid.name);
        EXPECT_NEAR(making::signedVolume(mesh) / solid.volume, 1, 2e-3) << solid.name;
    }
    // A closed one away from the axis is a ring, whichever way it runs.
    for (const float way : {1.0f, -1.0f}) {
        const Mesh ring = made("revolved", {circleOf(0.5f, 64, {2, 0, 0}, {1, 0, 0}, {0, way, 0})}, {{"sides", {256}}});
        expectClosed(ring, "ring");
        EXPECT_NEAR(making::signedVolume(ring) / (2 * pi * pi * 2 * 0.25), 1, 3e-3);
    }
}

TEST(Revolved, KeepsSharpEdgesAndSmoothsTheRest) {
    const Mesh tube = made("revolved", {{{{1, 0, 0}, {1, 2, 0}}, false}}, {{"sides", {64}}});
    for (std::size_t v = 0; v < tube.positions.size(); ++v) {
        const glm::vec3 n = tube.normals[v], p = tube.positions[v];
        const bool side = std::abs(n.y) < 0.5f;
        EXPECT_NEAR(side ? glm::dot(n, glm::normalize(glm::vec3(p.x, 0, p.z))) : std::abs(n.y), 1, 1e-3);
    }
}

TEST(Swept, IsClosedAlongOpenAndClosedCurvesWithEveryProfile) {
    const Curve line{{{0, 0, 0}, {0, 0, 4}}, false}, round = circleOf(3, 64, {0, 0, 0}, {1, 0, 0}, {0, 0, 1});
    Curve helix;
    for (int k = 0; k <= 200; ++k) {
        const auto t = static_cast<float>(k) / 200;
        helix.points.push_back({2 * std::cos(12 * t), 3 * t, 2 * std::sin(12 * t)});
    }
    // A star is concave; drawn clockwise and in another plane it is the same.
    Curve star;
    for (int k = 0; k < 10; ++k) {
        const auto turn = static_cast<float>(-pi * k / 5);
        const float radius = k % 2 ? 0.15f : 0.4f;
        star.points.push_back({radius * std::cos(turn), 0, radius * std::sin(turn)});
    }
    star.closed = true;
    for (const Curve& along : {line, round, helix}) {
        const Mesh plain = made("swept", {along}, {{"radius", {0.3}}, {"sides", {96}}, {"steps", {200}}});
        expectClosed(plain, "round");
        expectSound(plain, "round");
        const double length = MeasuredCurve(along).length();
        EXPECT_NEAR(making::signedVolume(plain) / (pi * 0.09 * length), 1, 5e-3) << "area times the way of the middle (Pappus)";
        const Mesh twisted = made("swept", {along}, {{"twist", {400}}, {"end", {30}}}, {star});
        expectClosed(twisted, "star");
        expectSound(twisted, "star");
        EXPECT_GT(making::signedVolume(twisted), 0);
    }
}

TEST(Swept, IsAsWideAsItSaysFromStartToEnd) {
    const Mesh horn = made("swept", {{{{0, 0, 0}, {0, 0, 4}}, false}}, {{"radius", {1}}, {"start", {50}}, {"end", {150}}, {"sides", {64}}});
    for (const glm::vec3& p : horn.positions) {
        const float away = std::hypot(p.x, p.y);
        EXPECT_LE(away, 0.5f + p.z / 4 + 1e-4f);
    }
    EXPECT_NEAR(making::signedVolume(horn) / (pi * 4 * (0.25 + 0.75 + 2.25) / 3), 1, 5e-3) << "a cut cone";
}

TEST(CurveSurfaces, WhatCantBeMadeSaysWhy) {
    const auto said = [](const char* kind, const std::vector<Curve>& along, const std::vector<Curve>& profile = {}) {
        try {
            made(kind, along, {}, profile);
        } catch (const Error& error) {
            return std::string(error.what());
        }
        return std::string();
    };
    const Curve line{{{0, 0, 0}, {0, 2, 0}}, false};
    EXPECT_NE(said("revolved", {}).find("no curve"), std::string::npos);
    EXPECT_NE(said("revolved", {line}).find("axis alone"), std::string::npos);
    EXPECT_NE(said("swept", {}).find("no curve"), std::string::npos);
    EXPECT_NE(said("swept", {line}, {line}).find("encloses something"), std::string::npos);
}
