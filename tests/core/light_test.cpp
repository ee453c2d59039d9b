#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/arrange/hang.h"
#include "core/base/error.h"
#include "core/kinds/registry.h"
#include "core/picture/lamp_tree.h"
#include "core/picture/trace_world.h"
#include "core/provide/placing.h"
#include "core/read/overlaps.h"
#include "core/resolve/resolve.h"
#include "tests/core/following.h"
#include "tests/core/making.h"

using namespace gswarm;
using glm::vec3;
using making::Build;
using std::numbers::pi;

namespace {

/// White matt paper on the floor of a dark world, and what it sends up from one place.
struct LitCard {
    Build b = Build::grid(1, 1, 1);

    LitCard() {
        b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
        b.set(b.shape, "width", {40}).set(b.shape, "depth", {40});
        b.set(b.sun(), "strength", {0}).set(b.sky(), "strength", {0}).set(b.sky(), "ground", false);
        b.set(b.material, "colour", {1, 1, 1, 1}).set(b.material, "roughness", {1});
        b.set(b.scene.project().id, "background", {0, 0, 0, 1});
    }
    ObjectId add(const Kind& kind, const vec3& position, double strength) {
        const Edit edit = addLight(b.scene, kind);
        b.scene = edit.scene;
        b.set(edit.made, "colour", {1, 1, 1, 1}).set(edit.made, "strength", {strength});
        b.set(edit.made, "position", {position.x, position.y, position.z});
        return edit.made;
    }
    /// Light that comes to a place from above, lux: white paper sends back its pi-th part.
    double irradiance(const vec3& place, int samples = 4096, const std::vector<Lamp>& repeated = {}) const {
        const Setting setting = settingAt(b.scene, 0, making::store());
        Progress progress;
        const DrawList list = drawListOf(std::vector{b.result()});
        MeshTrees trees;
        const TraceWorld world({&list, 1}, setting.light.ground, trees, progress);
        DrawList all;
        all.lamps = repeated;
        const LampTree lamps(allLamps(setting.lamps, all));
        const GlowLights glow(world);
        const PathScene scene{world, setting, lamps, glow, FarSampler(setting.light)};
        double sum = 0;
        for (const Sample& sample : making::followed(scene, {place + vec3(0, 0.5f, 0), {0, -1, 0}}, samples, 5)) sum += sample.light.y;
        return sum / samples * pi;
    }
};

}  // namespace

TEST(Lights, APointsLightFallsWithTheSquareOfTheDistance) {
    for (const double height : {1.0, 2.0, 5.0}) {
        LitCard paper;
        paper.b.set(paper.add(pointLight, {0, float(height), 0}, 50), "radius", {0});
        EXPECT_NEAR(paper.irradiance({0, 0, 0}) / (50 / (height * height)), 1, 0.01) << height;
        const double d2 = height * height + 9;
        EXPECT_NEAR(paper.irradiance({3, 0, 0}) / (50 / d2 * height / std::sqrt(d2)), 1, 0.03) << height;
    }
}

TEST(Lights, ADiscsIrradianceIsItsClosedForm) {
    LitCard paper;
    const ObjectId disc = paper.add(areaLight, {0, 2, 0}, 3);
    paper.b.choose(disc, "form", "disc").set(disc, "radius", {1.5});
    EXPECT_NEAR(paper.irradiance({0, 0, 0}) / (pi * 3 * 1.5 * 1.5 / (1.5 * 1.5 + 4)), 1, 0.01);
}

TEST(Lights, ARectanglesIrradianceIsItsClosedForm) {
    LitCard paper;
    const ObjectId area = paper.add(areaLight, {0, 1.5, 0}, 2);
    paper.b.set(area, "width", {3}).set(area, "depth", {2});
    const double a = 1.5, b = 1, h = 1.5, ah = std::hypot(a, h), bh = std::hypot(b, h);
    const double wanted = 4 * 2.0 / 2 * (a / ah * std::atan(b / ah) + b / bh * std::atan(a / bh));
    EXPECT_NEAR(paper.irradiance({0, 0, 0}) / wanted, 1, 0.01);
    // Turned on its back it shines up, and with both sides down again.
    paper.b.set(area, "rotation", {180, 0, 0});
    EXPECT_NEAR(paper.irradiance({0, 0, 0}), 0, 1e-6);
    paper.b.set(area, "bothSides", true);
    EXPECT_NEAR(paper.irradiance({0, 0, 0}) / wanted, 1, 0.01);
}

TEST(Lights, ASpotShinesInItsConeAlone) {
    LitCard paper;
    const ObjectId spot = paper.add(spotLight, {0, 4, 0}, 160);
    paper.b.set(spot, "angle", {60}).set(spot, "softEdge", {50}).set(spot, "radius", {0});
    EXPECT_NEAR(paper.irradiance({0, 0, 0}), 10, 0.1);
    EXPECT_NEAR(paper.irradiance({float(4 * std::tan(14 * pi / 180)), 0, 0}), 10 * std::pow(std::cos(14 * pi / 180), 3), 0.2);
    EXPECT_GT(paper.irradiance({float(4 * std::tan(25 * pi / 180)), 0, 0}), 0.1) << "in the soft edge";
    EXPECT_EQ(paper.irradiance({float(4 * std::tan(31 * pi / 180)), 0, 0}), 0);
    paper.b.set(spot, "on", false);
    EXPECT_EQ(paper.irradiance({0, 0, 0}), 0);
}

TEST(Lights, NothingBeyondItsReach) {
    LitCard paper;
    const ObjectId point = paper.add(pointLight, {0, 3, 0}, 90);
    paper.b.set(point, "reach", {2.9}).set(point, "radius", {0});
    EXPECT_EQ(paper.irradiance({0, 0, 0}), 0);
    paper.b.set(point, "reach", {30});
    EXPECT_NEAR(paper.irradiance({0, 0, 0}), 10, 0.1);
}

TEST(Lights, HangAndAim) {
    Build b = Build::grid(1, 1, 1);
    const Edit mount = addMount(b.scene), lamp = addLight(mount.scene, spotLight);
    b.scene = lamp.scene;
    b.set(mount.made, "position", {5, 0, 0}).set(mount.made, "rotation", {0, 0, 90});
    b.choose(lamp.made, "hang-by", "object").set(lamp.made, "hang-from", Value(mount.made)).set(lamp.made, "position", {0, 2, 0});
    const Lamp hung = *lampAt(b.scene, lamp.made, 0, making::store());
    making::expectNear(hung.position, {3, 0, 0});
    making::expectNear(hung.along, {1, 0, 0}, 1e-5f);
    b.set(lamp.made, "aim", Value(b.swarm)).set(b.swarm, "position", {3, -7, 0});
    making::expectNear(lampAt(b.scene, lamp.made, 0, making::store())->along, {0, -1, 0}, 1e-5f);
}

TEST(Lights, EveryKindHangsOrSaysThatItCanNot) {
    Build b = Build::grid(1, 1, 1);
    const Edit mount = addMount(b.scene);
    b.scene = mount.scene;
    b.set(mount.made, "position", {2, 0, 0});
    EXPECT_THROW(hang(b.scene, b.scene.all(ObjectType::light).front(), mount.made, 0, making::store()), Error) << "the sun";
    for (const Kind* kind : kindsOf(Family::light)) {
        if (!static_cast<const LightKind*>(kind)->lamp) continue;
        const Edit lamp = addLight(b.scene, *kind);
        const Edit hung = hang(lamp.scene, lamp.made, mount.made, 0, making::store());
        const Lamp before = *lampAt(lamp.scene, lamp.made, 0, making::store()), after = *lampAt(hung.scene, lamp.made, 0, making::store());
        making::expectNear(after.position, before.position);
        making::expectNear(after.along, before.along);
        EXPECT_EQ(numberAt(hung.scene, hung.scene.at(lamp.made).part("light"), "position", 0, 0), -2) << "it stays where it was";
    }
}

TEST(Lights, ManyLampsPickedOneByOneGiveTheirSum) {
    std::vector<Lamp> lamps;
    double sum = 0, alike = 0;
    for (int i = 0; i < 500; ++i) {
        Lamp lamp;
        lamp.position = {std::sin(i * 1.7f) * 20, 3 + i % 5, std::cos(i * 2.3f) * 20};
        lamp.light = vec3(1 + i % 7);
        lamps.push_back(lamp);
        const double d2 = glm::dot(lamp.position, lamp.position);
        const double one = lamp.light.x / d2 * lamp.position.y / std::sqrt(d2);
        sum += one, alike += 500 * one * one;
    }
    const LampTree tree(lamps);
    double found = 0, squares = 0;
    constexpr int picks = 20000;
    for (int k = 0; k < picks; ++k) {
        Sobol numbers(1, 1, static_cast<std::uint32_t>(k), 3);
        const float choose = numbers.next(), u = numbers.next(), v = numbers.next();
        const LampLight lamp = tree.sample(vec3(0), choose, u, v);
        const double one = lamp.light.x * lamp.direction.y;
        found += one, squares += one * one;
    }
    const double mean = found / picks, error = std::sqrt((squares / picks - mean * mean) / picks);
    EXPECT_NEAR(mean, sum, 4 * error + 1e-9);
    // Picked by how much they matter, they vary less than picked alike.
    EXPECT_LT(squares / picks - mean * mean, 0.6 * (alike - sum * sum));
}

TEST(Lights, ASunShinesFromWhereAThingIs) {
    Build b = Build::grid(2, 1, 1);
    const auto toward = [&](double frame) { return settingAt(b.scene, frame, making::store()).light.suns.front().toward; };
    const vec3 by = toward(0);
    EXPECT_LT(glm::length(by - towardSun(glm::radians(38.0f), glm::radians(-50.0f))), 1e-6);
    b.set(b.sun(), "from", Value(b.swarm));
    // In the middle of the world a thing gives no direction.
    EXPECT_EQ(toward(0), by);
    b.set(b.swarm, "position", {3, 4, 0});
    EXPECT_LT(glm::length(toward(0) - vec3(0.6f, 0.8f, 0)), 1e-6);
    b.set(b.swarm, "position", {0, 0, -2});
    EXPECT_LT(glm::length(toward(0) - vec3(0, 0, -1)), 1e-6);
    b.scene = remove(b.scene, b.swarm).scene;
    EXPECT_EQ(toward(0), by);
}

TEST(Lights, AllOfThemCanGo) {
    Build b = Build::grid(1, 1, 1);
    for (const ObjectId light : b.scene.all(ObjectType::light)) b.scene = remove(b.scene, light).scene;
    EXPECT_TRUE(settingAt(b.scene, 0, making::store()).light == FarLight{});
}

TEST(Lights, ARingOfThemIsOneSwarm) {
    LitCard paper;
    const ObjectId point = paper.add(pointLight, {0, 9, 0}, 20);
    paper.b.set(point, "radius", {0});
    const Edit edit = addSwarmOf(paper.b.scene, point);
    paper.b.scene = edit.scene;
    const ObjectId ring = edit.made, formation = edit.scene.at(ring).list("formations")[0];
    paper.b.scene = setKind(paper.b.scene, formation, "formation", *findKind(Family::formation, "ring")).scene;
    paper.b.set(formation, "count", {6}).set(formation, "radius", {2}).set(ring, "position", {0, 1.5, 0});
    const auto lit = [&] {
        Evaluator evaluator;
        Progress progress;
        const Setting setting = settingAt(paper.b.scene, 0, making::store());
        EXPECT_TRUE(setting.lamps.empty()) << "where it stands itself it shines no longer";
        const auto swarm = evaluator.evaluate(paper.b.scene, ring, 0, {}, progress);
        return paper.irradiance({0, 0, 0}, 2048, lampsOf(swarm));
    };
    const double d2 = 4 + 1.5 * 1.5, one = 20 / d2 * 1.5 / std::sqrt(d2);
    EXPECT_NEAR(lit() / (6 * one), 1, 0.02);
    // Its instance's size is its strength, its colour the light's.
    paper.b.set(edit.scene.at(ring).list("stock")[0], "size", {2});
    EXPECT_NEAR(lit() / (12 * one), 1, 0.02);
    const ObjectId sheet = std::exchange(paper.b.swarm, ring), dim = paper.b.gesture();
    paper.b.swarm = sheet;
    paper.b.set(dim, "colour", true).set(dim, "colourAmount", {0, 0, 0, 1}).set(dim, "pattern-value", {0.5});
    EXPECT_NEAR(lit() / (6 * one), 1, 0.03);
    // What a gesture hides gives none; one that is off gives none at all.
    paper.b.set(point, "on", false);
    EXPECT_EQ(lit(), 0);
}

TEST(Lights, WhatShinesFromFarAwayCanNotBeRepeated) {
    LitCard paper;
    const ObjectId sun = paper.b.scene.all(ObjectType::light).front();
    paper.b.set(paper.b.stock, "shape", Value(sun));
    try {
        paper.b.result();
        FAIL() << "it shines from far away";
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("can't be repeated"), std::string::npos) << error.what();
    }
}

TEST(Lights, ASwarmOfThemIsBesideShapesInItsStock) {
    // In turn: boxes are drawn, spots shine, and shine where they are turned to.
    Build b = Build::grid(4, 1, 1);
    const Edit spot = addLight(b.scene, spotLight);
    b.scene = addStock(spot.scene, b.swarm, spot.made).scene;
    const ObjectId turn = b.gesture();
    b.set(turn, "rotation", true).set(turn, "rotationAmount", {90, 0, 0}).set(turn, "pattern-value", {1});
    const auto result = b.result();
    const DrawList list = drawListOf(std::vector{result});
    ASSERT_EQ(list.surfaces.size(), 1u);
    EXPECT_EQ(list.surfaces[0].instances().size(), 2u);
    ASSERT_EQ(list.lamps.size(), 2u);
    EXPECT_NEAR(glm::length(list.lamps[0].along - vec3(0, 0, -1)), 0, 1e-5);
    EXPECT_NEAR(list.lamps[1].position.x - list.lamps[0].position.x, 2, 1e-5);
    Progress progress;
    EXPECT_EQ(countOverlaps(*result, progress), 0) << "light has no body";
}
