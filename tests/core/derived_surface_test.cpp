// Surfaces made of other shapes: lofted, subdivided, thickened, wire frames.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/kinds/registry.h"
#include "core/shape/curve.h"
#include "core/shape/shape_kind.h"
#include "tests/core/making.h"
#include "tests/core/meshes.h"

using namespace gswarm;
using glm::vec3;
using making::expectClosed;
using making::expectSound;
using making::shapeNumber;
using making::signedVolume;
using std::numbers::pi;

namespace {

std::shared_ptr<ShapeMeshes> shapeOf(Mesh mesh) {
    auto meshes = std::make_shared<ShapeMeshes>();
    meshes->level.fill(std::make_shared<const Mesh>(std::move(mesh)));
    return meshes;
}

Mesh madeOf(const char* kind, const Mesh& of, const making::Numbered& numbers = {}, making::Chosen choices = {}) {
    ShapeSource source;
    source.shape = [&](ObjectId) { return shapeOf(of); };
    choices.push_back({"of", toText(shapeNumber(1))});
    return making::mesh(kind, numbers, choices, source);
}

Mesh lofted(const std::vector<Curve>& curves, const making::Numbered& numbers = {}, making::Chosen choices = {}) {
    ShapeSource source;
    source.shape = [&](ObjectId id) {
        auto meshes = shapeOf(Mesh());
        meshes->curves = {curves.at(static_cast<std::size_t>(id.bits & 0xFF) - 1)};
        return meshes;
    };
    const char* names[] = {"first", "second", "third", "fourth", "fifth", "sixth"};
    for (std::size_t k = 0; k < curves.size(); ++k) choices.push_back({names[k], toText(shapeNumber(k + 1))});
    return making::mesh("lofted", numbers, choices, source);
}

/// Six flat faces of side 1, and the same without its lid.
Mesh cube(bool open = false) {
    Mesh mesh;
    for (int axis = 0; axis < 3; ++axis)
        for (const float side : {-0.5f, 0.5f}) {
            if (open && axis == 1 && side > 0) continue;
            std::vector<vec3> corners;
            for (const auto& [u, v] : {std::pair{-0.5f, -0.5f}, {0.5f, -0.5f}, {0.5f, 0.5f}, {-0.5f, 0.5f}}) {
                vec3 p;
                p[axis] = side, p[(axis + 1) % 3] = u, p[(axis + 2) % 3] = v;
                corners.push_back(p);
            }
            if (side < 0) std::reverse(corners.begin(), corners.end());
            addFlatPolygon(mesh, corners);
        }
    return mesh;
}

Mesh card() {
    Mesh mesh;
    const std::vector<vec3> corners{{-0.5f, -0.5f, 0}, {0.5f, -0.5f, 0}, {0.5f, 0.5f, 0}, {-0.5f, 0.5f, 0}};
    addFlatPolygon(mesh, corners);
    return mesh;
}

Curve circle(float radius, int points = 64, int begin = 0, bool back = false) {
    Curve curve;
    curve.closed = true;
    for (int k = 0; k < points; ++k) {
        const auto turn = static_cast<float>(2 * pi * (back ? begin - k : begin + k) / points);
        curve.points.push_back({radius * std::sin(turn), 0, radius * std::cos(turn)});
    }
    return curve;
}

double areaOf(int corners, double radius) { return corners / 2.0 * std::sin(2 * pi / corners) * radius * radius; }

}  // namespace

TEST(Subdivided, ACubeOnceRoundedIsAsItsRuleSays) {
    const Mesh mesh = madeOf("subdivided", cube(), {{"times", {1}}, {"crease", {180}}});
    expectClosed(mesh, "cube");
    expectSound(mesh, "cube");
    EXPECT_EQ(mesh.faceCount(), 24u);
    // Of each corner: a third of the mean of its faces, and two of the mean of its sides.
    int corners = 0;
    for (const vec3& p : topologyOf(mesh).places) {
        const vec3 a = glm::abs(p);
        if (a.x > 0.01f && a.y > 0.01f && a.z > 0.01f) ++corners, making::expectNear(a, vec3(5.0f / 18));
    }
    EXPECT_EQ(corners, 8);
    // Again and again it nears one round surface.
    const double fourth = signedVolume(madeOf("subdivided", cube(), {{"times", {4}}, {"crease", {180}}})),
                 fifth = signedVolume(madeOf("subdivided", cube(), {{"times", {5}}, {"crease", {180}}}));
    EXPECT_NEAR(fourth, fifth, 0.002);
    EXPECT_LT(fifth, 0.5);
}

TEST(Subdivided, SharpEdgesStayAndFormsAreKept) {
    const Mesh sharp = madeOf("subdivided", cube(), {{"times", {3}}, {"crease", {60}}});
    EXPECT_NEAR(signedVolume(sharp), 1, 1e-5);
    EXPECT_EQ(sharp.faceCount(), 6u * 64);
    for (const vec3& n : sharp.normals) EXPECT_NEAR(std::max({std::abs(n.x), std::abs(n.y), std::abs(n.z)}), 1, 1e-5f);
    // Without its lid the rim stays in its plane.
    const Mesh open = madeOf("subdivided", cube(true), {{"times", {2}}, {"crease", {180}}});
    expectSound(open, "open");
    EXPECT_NEAR(boundsOf(open).high.y, 0.5f, 1e-5f);
    const Mesh flat = madeOf("subdivided", card(), {{"times", {3}}}, {{"form", "kept"}});
    EXPECT_EQ(flat.faceCount(), 64u);
    for (std::size_t v = 0; v < flat.positions.size(); ++v)
        EXPECT_LT(glm::distance(flat.uv[v], glm::vec2(flat.positions[v]) + 0.5f), 1e-5f) << "UV lie evenly";
}

TEST(Thickened, FlatFacesAreAsThickAsTheyShould) {
    const Mesh plate = madeOf("thickened", card(), {{"thickness", {0.1}}});
    expectClosed(plate, "plate");
    expectSound(plate, "plate");
    EXPECT_NEAR(signedVolume(plate), 0.1, 1e-5);
    for (const auto& [to, volume] : {std::pair{"inward", 1 - 0.8 * 0.8 * 0.8}, {"outward", 1.2 * 1.2 * 1.2 - 1}}) {
        const Mesh shell = madeOf("thickened", cube(), {{"thickness", {0.1}}}, {{"to", to}});
        EXPECT_NEAR(signedVolume(shell), volume, 1e-4) << to;
        EXPECT_EQ(topologyOf(shell).components, 2u);
        EXPECT_TRUE(topologyOf(shell).closed());
    }
    // A box without a lid becomes a tub: one closed surface.
    const Mesh tub = madeOf("thickened", cube(true), {{"thickness", {0.1}}}, {{"to", "both"}});
    expectClosed(tub, "tub");
    EXPECT_EQ(topologyOf(tub).components, 1u);
}

TEST(WireFrame, HasARodForEveryEdgeAndABallWhereTheyMeet) {
    const Mesh frame = madeOf("wireFrame", cube(), {{"thickness", {0.1}}});
    expectSound(frame, "frame");
    EXPECT_TRUE(topologyOf(frame).closed());
    EXPECT_EQ(topologyOf(frame).components, 20u);
    EXPECT_NEAR(boundsOf(frame).size().x, 1.1f, 0.01f);
    const Mesh rods = madeOf("wireFrame", cube(), {{"thickness", {0.1}}, {"sides", {6}}}, {{"joints", "off"}});
    EXPECT_EQ(topologyOf(rods).components, 12u);
    EXPECT_NEAR(signedVolume(rods), 12 * areaOf(6, 0.05), 1e-4);
    EXPECT_NEAR(boundsOf(rods).size().x, 1.1f, 0.02f);
}

TEST(Lofted, BetweenCirclesIsATubeHoweverTheyBegin) {
    const double volume = areaOf(48, 1) * 2;
    for (const bool back : {false, true})
        for (const int begin : {0, 11}) {
            const Mesh tube = lofted({circle(1), circle(1, 64, begin, back)}, {{"apart", {2}}}, {{"way", "straight"}});
            expectClosed(tube, "tube");
            expectSound(tube, "tube");
            EXPECT_NEAR(signedVolume(tube), volume, 0.02) << begin << back;
        }
    // Drawn downward it is the same from outside.
    EXPECT_NEAR(signedVolume(lofted({circle(1), circle(1)}, {{"apart", {-2}}}, {{"way", "straight"}})), volume, 0.02);
    EXPECT_FALSE(topologyOf(lofted({circle(1), circle(1)}, {}, {{"lids", "off"}})).closed());
}

TEST(Lofted, GoesThroughEveryCurveSmoothlyAndBackToTheFirst) {
    const Mesh vase = lofted({circle(1), circle(2), circle(1)}, {{"rows", {8}}});
    expectClosed(vase, "vase");
    int through = 0;
    float widest = 0;
    for (std::size_t v = 0; v < vase.positions.size(); ++v) {
        const vec3 p = vase.positions[v];
        widest = std::max(widest, std::hypot(p.x, p.z));
        if (std::abs(p.y - 1) > 1e-5f) continue;
        ++through;
        EXPECT_NEAR(std::hypot(p.x, p.z), 2, 0.01f);
    }
    EXPECT_GE(through, 48);
    EXPECT_NEAR(widest, 2, 0.01f);  // level where it is widest
    std::vector<Curve> around;
    for (int k = 0; k < 6; ++k) {
        Curve section = circle(0.3f, 24);
        const auto turn = static_cast<float>(pi * k / 3);
        for (vec3& p : section.points) p = {(1 + p.x) * std::cos(turn), p.z, (1 + p.x) * std::sin(turn)};
        around.push_back(section);
    }
    const Mesh ring = lofted(around, {{"apart", {0}}, {"rows", {12}}, {"columns", {24}}}, {{"ring", "on"}});
    expectClosed(ring, "ring");
    expectSound(ring, "ring");
    EXPECT_NEAR(signedVolume(ring), 2 * pi * areaOf(24, 0.3), 0.1);
}

TEST(DerivedSurfaces, WhatCantBeMadeSaysWhy) {
    const auto says = [](const std::function<void()>& make) {
        try {
            make();
        } catch (const Error& error) {
            return std::string(error.what());
        }
        return std::string();
    };
    Curve line;
    line.points = {{0, 0, 0}, {1, 0, 0}};
    EXPECT_EQ(says([&] { lofted({circle(1), line}); }), "Some of its curves are closed and some are open; take all of one kind.");
    EXPECT_EQ(says([&] { lofted({circle(1)}); }), "A loft needs two curves at least; choose another one.");
    EXPECT_EQ(says([&] { madeOf("subdivided", {}); }), "The shape has no faces to divide.");
    EXPECT_EQ(says([&] { madeOf("thickened", {}); }), "The shape has no surface that could get a thickness.");
    EXPECT_EQ(says([&] { madeOf("wireFrame", {}); }), "The shape has no edges: it is a curve, or empty.");
    const Mesh fine = madeOf("subdivided", cube(), {{"times", {5}}}, {{"form", "kept"}});
    EXPECT_NE(says([&] { madeOf("subdivided", fine, {{"times", {8}}}); }).find("limit of 20 million"), std::string::npos);
    EXPECT_TRUE(lofted({line, line}, {{"apart", {1}}}).triangleCount() > 0);
    // What has no area makes no harm.
    Mesh none = card();
    for (vec3& p : none.positions) p = vec3(0);
    for (const char* kind : {"subdivided", "thickened", "wireFrame"}) says([&] { madeOf(kind, none); });
}

TEST(DerivedSurfaces, NewOnesBeginWithAShapeThatIsNotThemselves) {
    for (const char* kind : {"subdivided", "thickened", "wireFrame", "lofted", "swept", "revolved"}) {
        making::Build b = making::Build::grid(2, 1, 1);
        const Edit made = addShape(b.scene, *findKind(Family::shape, kind));
        b.scene = addStock(made.scene, b.swarm, made.made).scene;
        const auto result = b.result();
        EXPECT_EQ(result->visible, 2) << kind;
        ASSERT_EQ(result->variants.size(), 2u) << kind;
        EXPECT_GT(result->variants[1].meshes->mesh().triangleCount(), 0u) << kind;
    }
}
