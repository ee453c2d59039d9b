// Membranes: a mesh whose corners a swarm carries, against the mesh at rest and against surfaces whose normals are known.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/picture/draw_list.h"
#include "core/shape/carried.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A swarm on every corner of a ground, and the membrane that it carries.
struct Carrying {
    Build b;
    ObjectId ground, membrane;

    explicit Carrying(const char* shape) {
        ground = b.standOn("elements", shape);
        b.choose(b.formation, "element", "corners");
        const Edit made = addShape(b.scene, membraneShape);
        b.scene = made.scene;
        membrane = made.made;
    }
    Mesh mesh(double frame = 0) const { return backdrop(frame).meshes->mesh(); }
    Backdrop backdrop(double frame = 0) const {
        const auto result = b.result(frame);
        for (const Backdrop& backdrop : result->backdrops)
            if (backdrop.shape == membrane) return backdrop;
        ADD_FAILURE() << "there is no membrane: " << (result->notes.empty() ? "" : result->notes.back());
        return {};
    }
    /// Moves everything by what a formula says.
    ObjectId move(const char* formula, vec3 by) {
        const ObjectId gesture = b.gesture("formula");
        b.set(gesture, "pattern-value", Value(boundFormula(b.scene, formula))).set(gesture, "position", Value(true));
        b.set(gesture, "positionAmount", {by.x, by.y, by.z}).choose(gesture, "positionAxes", "swarm");
        return gesture;
    }
};

}  // namespace

TEST(Membrane, OfASwarmThatDoesNothingIsTheMeshItself) {
    for (const char* shape : {"ball", "box", "tube", "card", "geodesicBall", "ring"}) {
        const Carrying c(shape);
        const Mesh mesh = c.mesh();
        Scene scene = c.b.scene;
        const auto displayed = setValue(scene, addressOf(scene, c.ground, "display-as"), Value(std::string("shown")));
        Build shown = c.b;
        shown.scene = displayed.scene;
        const auto result = shown.result();
        const Backdrop* rest = nullptr;
        for (const Backdrop& backdrop : result->backdrops)
            if (backdrop.shape == c.ground) rest = &backdrop;
        ASSERT_TRUE(rest) << shape;
        const Mesh& base = rest->meshes->mesh();
        ASSERT_EQ(mesh.positions.size(), base.positions.size());
        EXPECT_EQ(mesh.triangles, base.triangles);
        EXPECT_EQ(mesh.faces, base.faces);
        EXPECT_EQ(mesh.uv, base.uv);
        EXPECT_TRUE(mesh.colours.empty());
        for (std::size_t v = 0; v < base.positions.size(); ++v) {
            EXPECT_LT(glm::distance(mesh.positions[v], base.positions[v]), 1e-5f) << shape << v;
            EXPECT_GT(glm::dot(mesh.normals[v], base.normals[v]), 0.99f) << shape << v;
            EXPECT_NEAR(glm::length(mesh.normals[v]), 1, 1e-5f);
            EXPECT_NEAR(glm::dot(mesh.normals[v], mesh.tangents[v]), 0, 1e-5f);
        }
    }
}

TEST(Membrane, EveryCornerLiesWhereItsInstanceIs) {
    Carrying c("card");
    c.b.set(c.ground, "columns", {20}).set(c.ground, "rows", {13});
    c.b.set(c.ground, "width", {4}).set(c.ground, "depth", {3});
    c.move("sin(2*x)*z", {0.2f, 1, -0.1f});
    const auto rows = c.b.rows();
    const Mesh mesh = c.mesh();
    const auto at = making::byId(rows);
    const Mesh base = [&] {
        Carrying still("card");
        still.b.set(still.ground, "columns", {20}).set(still.ground, "rows", {13});
        still.b.set(still.ground, "width", {4}).set(still.ground, "depth", {3});
        return still.mesh();
    }();
    const Topology topology = topologyOf(base);
    ASSERT_EQ(at.size(), topology.places.size());
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) making::expectNear(mesh.positions[v], at.at(topology.corner[v]), 1e-6f);
}

TEST(Membrane, NormalsAreThoseOfTheSurfaceItHasBecome) {
    Carrying c("card");
    c.b.set(c.ground, "columns", {120}).set(c.ground, "rows", {120});
    c.b.set(c.ground, "width", {4}).set(c.ground, "depth", {4});
    c.move("x*x - 0.5*z", {0, 1, 0});
    const Mesh mesh = c.mesh();
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) {
        const vec3& p = mesh.positions[v];
        if (std::abs(p.x) > 1.9f || std::abs(p.z) > 1.9f) continue;  // at the rim faces lie on one side only
        EXPECT_GT(glm::dot(mesh.normals[v], glm::normalize(vec3(-2 * p.x, 1, 0.5f))), 0.9995f) << p.x << " " << p.z;
    }
}

TEST(Membrane, SharpEdgesStaySharp) {
    Carrying c("box");
    c.b.set(c.ground, "rounding", {0});
    c.move("1", {1, 2, 3});
    const Mesh mesh = c.mesh();
    for (const vec3& n : mesh.normals) EXPECT_NEAR(std::max({std::abs(n.x), std::abs(n.y), std::abs(n.z)}), 1, 1e-5f);
}

TEST(Membrane, NormalsAreWeightedByTheAngleAtTheCorner) {
    // Three walls meet at a corner of a box; one of them is cut in two triangles there. By angles they weigh the same.
    Mesh corner;
    const vec3 diagonal = glm::normalize(vec3(1));
    for (const vec3& p : {vec3(0), vec3(-1, 0, 0), vec3(0, -1, 0), vec3(0, 0, -1), vec3(-1, -1, 0)}) addVertex(corner, p, diagonal, {0, 0});
    addFace(corner, {0, 1, 4});
    addFace(corner, {0, 4, 2});
    addFace(corner, {0, 2, 3});
    addFace(corner, {0, 3, 1});
    addTangents(corner);
    auto base = std::make_shared<ShapeMeshes>();
    base->level.fill(std::make_shared<const Mesh>(corner));
    const CarriedRest rest = carriedRest(base);
    Carried carried;
    for (const vec3& p : rest.places) carried.x.push_back(p.x), carried.y.push_back(p.y), carried.z.push_back(p.z);
    Bounds bounds;
    const Mesh mesh = carriedMesh(rest, carried, {}, bounds);
    making::expectNear(bounds.low, vec3(-1));
    making::expectNear(bounds.high, vec3(0));
    making::expectNear(mesh.normals[0], diagonal, 1e-5f);
}

TEST(Membrane, AHiddenInstanceLeavesItsCornerAtHome) {
    Carrying c("card");
    c.b.set(c.ground, "columns", {4}).set(c.ground, "rows", {4});
    c.move("1", {0, 1, 0});
    const ObjectId hide = c.b.gesture("formula");
    c.b.set(hide, "pattern-value", Value(boundFormula(c.b.scene, "step(0.1, x)"))).set(hide, "showing", Value(true));
    for (const vec3& p : c.mesh().positions) EXPECT_NEAR(p.y, p.x >= 0.1f ? 0 : 1, 1e-6f) << p.x;
}

TEST(Membrane, HasTheInstancesColoursOnceAGestureColoursThem) {
    Carrying c("card");
    EXPECT_TRUE(c.mesh().colours.empty());
    const ObjectId paint = c.b.gesture("steady");
    c.b.set(paint, "colour", Value(true)).set(paint, "colourAmount", {1, 0, 0, 1});
    const Mesh mesh = c.mesh();
    ASSERT_EQ(mesh.colours.size(), mesh.positions.size());
    for (const glm::vec4& colour : mesh.colours) {
        EXPECT_NEAR(colour.r, 1, 1e-5f);
        EXPECT_NEAR(colour.g, 0, 1e-5f);
    }
    EXPECT_EQ(c.backdrop().look.plain.colour, glm::vec4(1)) << "nothing tints them";
}

TEST(Membrane, IsSeenWhereTheSwarmStandsAlsoWhereThatIsHidden) {
    Carrying c("ball");
    c.b.set(c.b.swarm, "position", {0, 3, 0}).set(c.b.swarm, "shown", Value(false));
    const std::shared_ptr<const Result> result = c.b.result();
    const DrawList list = drawListOf(std::vector<std::shared_ptr<const Result>>{result});
    ASSERT_EQ(list.surfaces.size(), 1u);
    EXPECT_EQ(list.surfaces[0].shape, c.membrane);
    EXPECT_NEAR(list.surfaces[0].pose[3].y, 3, 1e-6f);
}

TEST(Membrane, IsAShapeLikeAnyOther) {
    Carrying c("geodesicBall");
    c.b.set(c.ground, "radius", {2}).set(c.ground, "frequency", {6});
    c.move("1", {0, 5, 0});
    // It is repeated by another swarm …
    Edit other = addSwarmOf(c.b.scene, c.membrane);
    Build b = c.b;
    b.scene = other.scene;
    b.swarm = other.made;
    EXPECT_NEAR(b.result()->variants[0].meshes->bounds.centre().y, 5, 1e-3f);
    // … and stood upon.
    other = addSwarm(c.b.scene);
    b.scene = other.scene;
    b.swarm = other.made;
    b.formation = b.scene.at(other.made).list("formations").front();
    b.formationKind("evenlySpaced").set(b.formation, "shape", Value(c.membrane)).set(b.formation, "distance", {0.5});
    for (const InstanceRow& row : b.rows()) EXPECT_NEAR(glm::distance(row.position, vec3(0, 5, 0)), 2, 0.1f);
}

TEST(Membrane, MovesWithWhatCarriesIt) {
    Carrying c("card");
    const ObjectId lift = c.b.gesture("steady");
    c.b.set(lift, "position", Value(true)).key(lift, "positionAmount", {{0, 0}, {50, 2}}, 1);
    EXPECT_NEAR(c.mesh(0).positions[0].y, 0, 1e-5f);
    EXPECT_NEAR(c.mesh(50).positions[0].y, 2, 1e-5f);
}

TEST(Membrane, WhatDoesNotStandOnCornersIsToldInOneSentence) {
    Carrying c("ball");
    c.b.choose(c.b.formation, "element", "faces");
    const auto result = c.b.result();
    EXPECT_GT(result->visible, 0) << "the swarm itself goes on";
    ASSERT_EQ(result->notes.size(), 1u);
    EXPECT_NE(result->notes[0].find("does not stand on the corners of a mesh"), std::string::npos) << result->notes[0];
    c.b.scene = gswarm::remove(c.b.scene, c.b.swarm).scene;
    Build other = c.b;
    const Edit swarm = addSwarmOf(c.b.scene, c.membrane);
    other.scene = swarm.scene;
    other.swarm = swarm.made;
    EXPECT_THROW(other.plan(), Error);
}

TEST(Membrane, CannotStandOnItself) {
    Carrying c("ball");
    EXPECT_THROW(setValue(c.b.scene, addressOf(c.b.scene, c.b.formation, "shape"), Value(c.membrane)), Error);
    EXPECT_THROW(addStock(c.b.scene, c.b.swarm, c.membrane), Error);
}

TEST(Membrane, ANewOneBringsASwarmThatCanCarryIt) {
    Build b;
    const Edit made = addShape(b.scene, membraneShape);
    b.scene = made.scene;
    ASSERT_EQ(b.scene.all(ObjectType::swarm).size(), 2u);
    for (const ObjectId swarm : b.scene.all(ObjectType::swarm))
        if (swarm != b.swarm) b.swarm = swarm;
    const auto result = b.result();
    EXPECT_FALSE(result->shown);
    ASSERT_EQ(result->backdrops.size(), 1u);
    EXPECT_GT(result->count, 2000);
    // The next one takes a swarm that carries none.
    const Edit next = addShape(b.scene, membraneShape);
    EXPECT_EQ(next.scene.all(ObjectType::swarm).size(), 3u);
}

TEST(Membrane, TheSameBitsOnEveryThread) {
    Carrying c("geodesicBall");
    c.b.set(c.ground, "frequency", {40});
    const ObjectId noise = c.b.gesture("noise");
    c.b.set(noise, "position", Value(true)).set(noise, "positionAmount", {0.3, 0.2, 0.1});
    const auto one = c.b.result(3, 1), two = c.b.result(3, 2);
    const Mesh &a = one->backdrops.at(0).meshes->mesh(), &b = two->backdrops.at(0).meshes->mesh();
    EXPECT_EQ(a.positions, b.positions);
    EXPECT_EQ(a.normals, b.normals);
    EXPECT_EQ(a.tangents, b.tangents);
}
