// Forces: by themselves against closed forms, and on bodies through the rail.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/edit/rail_edits.h"
#include "core/force/force_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/read/force_lines.h"
#include "core/read/outline.h"
#include "core/resolve/resolve.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;

namespace {

/// A force of a kind by itself, with what differs from its standard.
struct Alone {
    Scene scene = emptyScene();
    ObjectId force;

    explicit Alone(const ForceKind& kind) {
        const Edit edit = addForce(scene, kind);
        scene = edit.scene;
        force = edit.made;
    }
    Alone& set(const char* parameter, const Value& value) {
        scene = setValue(scene, addressOf(scene, force, parameter), value).scene;
        return *this;
    }
    Alone& set(const char* parameter, std::initializer_list<double> numbers) { return set(parameter, Value(fixedNumbers(numbers))); }
    /// Push and grip at places in its own axes.
    std::vector<glm::vec4> at(const std::vector<vec3>& places, double frame = 0) const {
        const ResolvedPart part = resolve(scene, scene.at(force).part("force"), frame);
        const auto& kind = static_cast<const ForceKind&>(*part.kind);
        if (kind.prepare) kind.prepare(part.data.get(), {});
        static Columns3 local;
        static ForceColumns out;
        const int padded = (static_cast<int>(places.size()) + 15) & ~15;
        for (int i = 0; i < padded; ++i) {
            const vec3& p = places[std::min<std::size_t>(static_cast<std::size_t>(i), places.size() - 1)];
            local.x[i] = p.x, local.y[i] = p.y, local.z[i] = p.z;
        }
        Moment moment = momentOf(frame);
        kind.act({part.data.get(), local, padded, moment}, out);
        std::vector<glm::vec4> all;
        for (std::size_t i = 0; i < places.size(); ++i) all.emplace_back(out.push.x[i], out.push.y[i], out.push.z[i], out.grip[i]);
        return all;
    }
    static Moment momentOf(double frame) {
        Moment moment;
        moment.frame = frame;
        return moment;
    }
    vec3 flow(const vec3& place, double frame = 0) const {
        const glm::vec4 v = at({place}, frame).front();
        return vec3(v) / v.w;
    }
};

/// A row of balls without weight and ground, a force of the scene upon them.
struct Blown : Build {
    ObjectId bodies, force;

    explicit Blown(const ForceKind& kind, int count = 1) : Build(Build::grid(count, 1, 1)) {
        scene = setKind(scene, shape, "maker", *findKind(Family::shape, "ball")).scene;
        set(shape, "radius", {0.1});
        const Edit card = addGesture(scene, swarm, standardObject(ObjectType::gesture, "Bodies", {&bodiesGesture}));
        scene = card.scene;
        bodies = card.made;
        set(bodies, "gravity", {0}).set(bodies, "ground", false).set(bodies, "damping", {0}).set(bodies, "meet", false);
        const Edit edit = addForce(scene, kind);
        scene = edit.scene;
        force = edit.made;
    }
};

}  // namespace

TEST(Forces, WindTakesThingsAlongAsTheClosedFormSays) {
    Blown blown(windForce);
    blown.set(blown.force, "speed", {3}).set(blown.force, "grip", {2});
    const vec3 home = blown.rows(0)[0].position;
    for (const double frame : {5.0, 25.0, 60.0}) {
        const double t = frame / 25, gone = 3 * (t - (1 - std::exp(-2 * t)) / 2);
        EXPECT_NEAR(blown.rows(frame)[0].position.x - home.x, gone, 2e-3 * gone) << frame;
    }
    // Turned about Y by 90°, its X points to −Z.
    blown.set(blown.force, "rotation", {0, 90, 0});
    const vec3 turned = blown.rows(25)[0].position - home;
    EXPECT_NEAR(turned.x, 0, 1e-3);
    EXPECT_LT(turned.z, -1);
}

TEST(Forces, DragHoldsAFallAtItsEndSpeed) {
    Blown blown(dragForce);
    blown.set(blown.bodies, "gravity", {10}).set(blown.force, "grip", {4});
    const float fell = blown.rows(99)[0].position.y - blown.rows(100)[0].position.y;
    EXPECT_NEAR(fell * 25, 10.0 / 4, 0.01);
    // With a spring home it hangs where weight and spring are even, drag or not.
    blown.set(blown.bodies, "strive", {1}).set(blown.bodies, "sleeps", false);
    const double w = 2 * std::numbers::pi;
    EXPECT_NEAR(blown.rows(0)[0].position.y - blown.rows(150)[0].position.y, 10 / (w * w), 2e-3);
}

TEST(Forces, AttractionDrawsToAPlaceACurveAndASurface) {
    Alone point(attractionForce);
    point.set("pull", {6});
    making::expectNear(vec3(point.at({{3, 0, 4}})[0]), vec3(-3.6f, 0, -4.8f), 1e-5f);
    EXPECT_EQ(point.at({{0, 0, 0}})[0], glm::vec4(0)) << "at the place itself there is nowhere to go";
    point.set("falls", Value(std::string("fades"))).set("reach", {10});
    EXPECT_NEAR(glm::length(vec3(point.at({{0, 5, 0}})[0])), 3, 1e-5);
    EXPECT_EQ(point.at({{0, 11, 0}})[0], glm::vec4(0));
    point.set("falls", Value(std::string("square"))).set("reach", {2});
    EXPECT_NEAR(glm::length(vec3(point.at({{0, 4, 0}})[0])), 1.5, 1e-5);
    EXPECT_NEAR(glm::length(vec3(point.at({{0, 2, 0}})[0])), 6, 1e-5);

    // A ball's surface from outside and inside, and a circle's line; both lie at the force's place.
    Blown blown(attractionForce, 2);
    Edit made = addShape(blown.scene, *findKind(Family::shape, "geodesicBall"));
    blown.scene = made.scene;
    blown.set(made.made, "radius", {2}).set(made.made, "frequency", {12});
    blown.choose(blown.force, "to", "surface").set(blown.force, "surface", Value(made.made)).set(blown.force, "pull", {4});
    blown.set(blown.formation, "spacing", {6, 1, 1});  // at −3 and 3, one metre outside
    const auto home = blown.rows(0), later = blown.rows(10);
    const double expected = 0.5 * 4 * 0.4 * 0.4;
    EXPECT_NEAR(later[0].position.x - home[0].position.x, expected, 0.01);
    EXPECT_NEAR(later[1].position.x - home[1].position.x, -expected, 0.01);
    blown.set(blown.formation, "spacing", {2, 1, 1});  // at −1 and 1, inside
    EXPECT_NEAR(blown.rows(10)[1].position.x - blown.rows(0)[1].position.x, expected, 0.01);

    made = addShape(blown.scene, *findKind(Family::shape, "circle"));
    blown.scene = made.scene;
    blown.set(made.made, "radius", {5});
    blown.choose(blown.force, "to", "curve").set(blown.force, "curve", Value(made.made));
    EXPECT_NEAR(blown.rows(10)[1].position.x - blown.rows(0)[1].position.x, expected, 0.01);
}

TEST(Forces, AVortexTurnsStiffInItsCoreAndSlowerOutside) {
    Alone vortex(vortexForce);
    vortex.set("turns", {0.5}).set("core", {2});
    const float spin = std::numbers::pi_v<float>;
    making::expectNear(vortex.flow({1, 3, 0}), vec3(0, 0, -spin), 1e-5f);
    making::expectNear(vortex.flow({0, 0, 2}), vec3(2 * spin, 0, 0), 1e-5f);
    making::expectNear(vortex.flow({8, 0, 0}), vec3(0, 0, -spin * 4 / 8), 1e-5f);
    vortex.set("turns", {0}).set("inward", {1.5}).set("lift", {0.5});
    making::expectNear(vortex.flow({3, 0, 4}), vec3(-0.9f, 0.5f, -1.2f), 1e-5f);
    making::expectNear(vortex.flow({0, 0, 0}), vec3(0, 0.5f, 0), 1e-5f);
}

TEST(Forces, TurbulenceNeitherGathersNorThinsOut) {
    Alone eddies(turbulenceForce);
    eddies.set("size", {2}).set("speed", {3});
    double squares = 0, slopes = 0, gathers = 0;
    int count = 0;
    const float h = 0.02f;
    for (int k = 0; k < 400; ++k) {
        const vec3 p(static_cast<float>(k % 7) * 1.37f, static_cast<float>(k % 11) * 0.93f, static_cast<float>(k) * 0.31f);
        const vec3 here = eddies.flow(p);
        squares += glm::dot(here, here);
        float divergence = 0;
        for (int a = 0; a < 3; ++a) {
            vec3 by(0);
            by[a] = h;
            const vec3 slope = (eddies.flow(p + by) - eddies.flow(p - by)) / (2 * h);
            divergence += slope[a];
            slopes += glm::dot(slope, slope);
        }
        gathers += divergence * divergence;
        ++count;
    }
    EXPECT_NEAR(std::sqrt(squares / count), 3, 0.3) << "the average eddy flows as fast as asked";
    EXPECT_LT(std::sqrt(gathers / slopes), 0.03);
    // In laps it closes to the bit.
    EXPECT_EQ(eddies.at({{1, 2, 3}}, 7), eddies.at({{1, 2, 3}}, 107));
    EXPECT_NE(eddies.at({{1, 2, 3}}, 7), eddies.at({{1, 2, 3}}, 37));
}

TEST(Forces, ActOnlyWhereTheirZonesAreAndAsStrongAsTheyAre) {
    Blown blown(windForce, 5);
    const Edit woven = addZone(blown.scene, blown.force, *findKind(Family::zone, "ball"));
    blown.scene = woven.scene;
    const auto home = blown.rows(0);
    blown.set(woven.made, "radius", {0.5}).set(woven.made, "softEdge", {0});
    blown.set(woven.made, "position", {home[4].position.x, home[4].position.y, home[4].position.z});
    const auto later = blown.rows(4);
    EXPECT_GT(later[4].position.x, home[4].position.x + 0.02f);
    for (std::size_t i = 0; i < 4; ++i) making::expectNear(later[i].position, home[i].position, 0);
    const float whole = later[4].position.x - home[4].position.x;
    // Forces felt, strength and the weave's response all count; a wind that grips half as firmly goes half as far at first.
    blown.set(blown.bodies, "forces", {50});
    EXPECT_NEAR(blown.rows(1)[4].position.x - home[4].position.x, whole / 32, whole / 100);
    blown.set(blown.bodies, "forces", {0});
    EXPECT_EQ(blown.rows(4)[4].position.x, home[4].position.x);
    blown.set(blown.bodies, "forces", {100}).set(blown.force, "on", Value(false));
    EXPECT_EQ(blown.rows(4)[4].position.x, home[4].position.x);
}

TEST(Forces, AnEditOfAForceKeepsTheFramesBeforeItsFirstEffect) {
    Blown blown(windForce);
    blown.key(blown.force, "speed", {{0, 0, Ease::hold}, {30, 0, Ease::hold}});
    const auto before = blown.rows(20)[0].position, at40 = blown.rows(40)[0].position;
    blown.key(blown.force, "speed", {{0, 0, Ease::hold}, {30, 5, Ease::hold}});
    EXPECT_EQ(blown.rows(20)[0].position, before);
    EXPECT_GT(blown.rows(40)[0].position.x, at40.x + 0.2f);
}

TEST(Forces, WhatOneLacksIsToldAndTheRestGoesOn) {
    Blown blown(attractionForce);
    blown.choose(blown.force, "to", "curve");
    const auto result = blown.result(5);
    EXPECT_EQ(result->cards.back().waits, "The force “Attraction”: it has no shape yet; choose one.");
    EXPECT_EQ(result->count, 1);
    // One that is off lacks nothing.
    blown.set(blown.force, "on", Value(false));
    EXPECT_EQ(blown.result(5)->cards.back().waits, "");
}

TEST(Forces, CantDependOnWhatTheyMove) {
    Blown blown(windForce);
    const Edit woven = addZone(blown.scene, blown.force, *findKind(Family::zone, "nearSwarm"));
    EXPECT_THROW(setValue(woven.scene, addressOf(woven.scene, woven.made, "swarm"), blown.swarm), Error);
}

TEST(Forces, OfAnyStrengthLeaveEverythingFinite) {
    for (const Kind* kind : kindsOf(Family::force)) {
        Blown blown(static_cast<const ForceKind&>(*kind), 4);
        blown.set(blown.force, "strength", {1e4});
        for (const Parameter& p : kind->parameters)
            if (p.unit == "m/s" || p.unit == "m/s²") blown.set(blown.force, p.id, {p.hard.high});
        for (const InstanceRow& row : blown.rows(12)) EXPECT_TRUE(std::isfinite(glm::length(row.position))) << kind->id;
    }
}

TEST(Forces, ShowTheirLinesAndStandInTheOutlineWithTheirZones) {
    Blown blown(vortexForce, 4);
    const Edit woven = addZone(blown.scene, blown.force, *findKind(Family::zone, "box"));
    Progress progress;
    const auto result = blown.result(0);
    const ForceLines all = forceLinesOf(blown.scene, blown.force, *result, {}, making::store(), progress);
    ASSERT_GT(all.lines.size(), 20u);
    for (const auto& line : all.lines)
        for (const vec3& p : line) EXPECT_TRUE(std::isfinite(p.x + p.y + p.z));
    // They turn about the axis: the way crosses the direction to it.
    const vec3 from = all.lines.front().front(), way = all.lines.front()[1] - from;
    EXPECT_LT(std::abs(glm::dot(glm::normalize(way), glm::normalize(vec3(from.x, 0, from.z)))), 0.2f);
    blown.set(blown.force, "on", Value(false));
    EXPECT_TRUE(forceLinesOf(blown.scene, blown.force, *result, {}, making::store(), progress).lines.empty());
    bool found = false;
    for (const OutlineRow& row : outlineOf(woven.scene))
        if (row.id == blown.force) found = row.under.size() == 1 && row.under.front().id == woven.made;
    EXPECT_TRUE(found);
}
