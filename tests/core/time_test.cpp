// Keys, formulas and links as what moves a number; keys edited; hanging and following.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/geometric.hpp>

#include "core/arrange/hang.h"
#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/file/project_file.h"
#include "core/formula/parse.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

Track trackOf(std::vector<Key> keys) { return withKeys(Track{}, std::move(keys)); }

std::string sentenceOf(const std::function<void()>& work) {
    try {
        work();
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

/// A swarm of five boxes with one gesture that lifts, under a ball zone.
struct Lift : Build {
    ObjectId gesture, zone;

    Lift() : Build(Build::grid(5, 1, 1)) {
        gesture = Build::gesture("steady");
        choose(gesture, "positionMode", "by");
        set(gesture, "position", Value(true));
        set(gesture, "positionAmount", {0, 1, 0});
        zone = Build::zone(gesture, "ball");
        set(zone, "radius", {100});
        set(zone, "softEdge", {0});
        scene = rename(scene, gesture, "Rise").scene;
        scene = rename(scene, zone, "Swell").scene;
    }
    Address at(ObjectId object, const char* parameter, int component = -1) const { return addressOf(scene, object, parameter, component); }
    double number(ObjectId object, const char* parameter, double frame, int component = -1) const {
        return *valueAtAddress(scene, toText(scene, at(object, parameter, component)), frame);
    }
    void formula(ObjectId object, const char* parameter, const std::string& text, int component = -1) {
        scene = setFormula(scene, at(object, parameter, component), text).scene;
    }
};

}  // namespace

TEST(Keys, EasesAreTheirCubics) {
    const auto between = [](Ease ease, double x) { return keyedValueAt(trackOf({{0, 0, ease}, {10, 2, ease}}), 10 * x) / 2; };
    for (const double x : {0.0, 0.2, 0.5, 0.7}) {
        EXPECT_NEAR(between(Ease::linear, x), x, 1e-12);
        EXPECT_NEAR(between(Ease::eased, x), x * x * (3 - 2 * x), 1e-12);
        EXPECT_NEAR(between(Ease::slowStart, x), x * x, 1e-12);
        EXPECT_NEAR(between(Ease::slowEnd, x), x * (2 - x), 1e-12);
        EXPECT_EQ(between(Ease::hold, x), 0);
    }
    EXPECT_GT(between(Ease::overshoot, 0.7), 1.0);
    EXPECT_LT(between(Ease::backFirst, 0.3), 0.0);
    // Free: from 0 with slope 1 to 2 with slope 0 over ten frames, at the middle (0 + 2) / 2 + 10 (1 − 0) / 8.
    EXPECT_NEAR(keyedValueAt(trackOf({{0, 0, Ease::free, 0, 1}, {10, 2, Ease::free, 0, 0}}), 5), 1 + 10.0 / 8, 1e-12);
}

TEST(Keys, BeforeTheFirstAndAfterTheLast) {
    Track track = trackOf({{10, 1, Ease::linear}, {20, 3, Ease::linear}});
    EXPECT_EQ(keyedValueAt(track, 5), 1);
    EXPECT_EQ(keyedValueAt(track, 90), 3);
    track.before = track.after = Beyond::repeat;
    EXPECT_NEAR(keyedValueAt(track, 25), 2, 1e-12);
    EXPECT_NEAR(keyedValueAt(track, 7), 1 + 0.2 * 7, 1e-12);
    track.before = track.after = Beyond::backAndForth;
    EXPECT_NEAR(keyedValueAt(track, 22), 3 - 0.2 * 2, 1e-12);
    EXPECT_NEAR(keyedValueAt(track, 8), 1 + 0.2 * 2, 1e-12);
    EXPECT_NEAR(slopeAt(track, 22), -0.2, 1e-12);
    track.before = track.after = Beyond::goOn;
    EXPECT_NEAR(keyedValueAt(track, 30), 5, 1e-12);
    EXPECT_NEAR(keyedValueAt(track, 0), -1, 1e-12);
}

TEST(Keys, TenThousandOnOneNumberAreReadTheSameInLanes) {
    std::vector<Key> keys;
    for (int k = 0; k < 10000; ++k) keys.push_back({double(k), std::sin(k * 0.7), k % 3 ? Ease::linear : Ease::eased});
    const Track track = trackOf(keys);
    alignas(64) float offset[16], out[16];
    for (int i = 0; i < 16; ++i) offset[i] = static_cast<float>(-i * 37.5);
    readPieces(piecesOf(track, 5000 - 600, 5000), 5000, offset, 16, out);
    for (int i = 0; i < 16; ++i) EXPECT_NEAR(out[i], keyedValueAt(track, 5000 - i * 37.5), 1e-5);
}

TEST(Keys, AreMovedStretchedMirroredAndSnapped) {
    Lift p;
    p.key(p.zone, "radius", {{0, 1}, {10, 2}, {20, 5, Ease::slowStart}});
    const Address radius = p.at(p.zone, "radius");
    const auto frames = [&](const Scene& scene) {
        std::vector<double> out;
        for (const Key& key : *trackAt(scene, radius).keys) out.push_back(key.frame);
        return out;
    };
    const std::vector<KeyPlace> two{{radius, 10}, {radius, 20}};
    EXPECT_EQ(frames(moveKeys(p.scene, two, 5).scene), (std::vector<double>{0, 15, 25}));
    EXPECT_EQ(frames(stretchKeys(p.scene, two, 10, 2).scene), (std::vector<double>{0, 10, 30}));
    // What comes to an occupied frame stays.
    const Scene onto = moveKeys(p.scene, {{radius, 20}}, -10).scene;
    EXPECT_EQ(frames(onto), (std::vector<double>{0, 10}));
    EXPECT_EQ(keyedValueAt(trackAt(onto, radius), 10), 5);
    const Scene mirrored = mirrorKeys(p.scene, {{radius, 0}, {radius, 10}, {radius, 20}}).scene;
    for (const double f : {0.0, 3.0, 10.0, 14.0, 20.0})
        EXPECT_NEAR(keyedValueAt(trackAt(mirrored, radius), 20 - f), keyedValueAt(trackAt(p.scene, radius), f), 1e-12) << f;
    p.key(p.zone, "radius", {{0.4, 1}, {9.7, 2}});
    EXPECT_EQ(frames(snapKeys(p.scene, {{radius, 0.4}, {radius, 9.7}}).scene), (std::vector<double>{0, 10}));
    EXPECT_FALSE(trackAt(removeKeys(p.scene, {{radius, 0.4}, {radius, 9.7}}).scene, radius).keyed());
}

TEST(Keys, AreCopiedToTheirLikeElsewhere) {
    Lift p;
    p.key(p.zone, "radius", {{5, 1}, {10, 2}});
    const ObjectId other = p.Build::zone(p.gesture, "ball");
    const CopiedKeys copied = copyKeys(p.scene, keysAt(p.scene, p.zone, 5));
    const Scene pasted = pasteKeys(p.scene, copied, other, 40).scene;
    const Track& track = trackAt(pasted, addressOf(pasted, other, "radius"));
    ASSERT_TRUE(track.keyed());
    EXPECT_EQ(track.keys->front().frame, 40);
    EXPECT_EQ(track.keys->front().value, 1);
    EXPECT_NE(sentenceOf([&] { pasteKeys(p.scene, copied, p.scene.project().id, 0); }), "");
}

TEST(Keys, ASwitchIsKeyedAndHolds) {
    Lift p;
    const Address on = p.at(p.zone, "on");
    p.scene = toggleKey(p.scene, on, 0).scene;
    p.scene = setSwitch(p.scene, on, false, 10).scene;
    EXPECT_FLOAT_EQ(p.rows(9)[0].position.y, 1);
    EXPECT_FLOAT_EQ(p.rows(10)[0].position.y, 0);
    EXPECT_EQ(toJson(parseProject(toJson(p.scene), "again")), toJson(p.scene));
    p.scene = toggleKey(toggleKey(p.scene, on, 10).scene, on, 0).scene;
    EXPECT_TRUE(std::holds_alternative<bool>(valueOf(p.scene, on)));
}

TEST(Keys, AnotherRateKeepsFramesOrSeconds) {
    Lift p;
    p.key(p.zone, "radius", {{0, 1}, {25, 2}});
    p.choose(p.gesture, "when-by", "number");
    p.set(p.gesture, "when-over", {50});
    const Scene frames = setRate(p.scene, "50", RateKeeps::frames).scene;
    EXPECT_EQ(trackAt(frames, p.at(p.zone, "radius")).keys->back().frame, 25);
    const Scene seconds = setRate(p.scene, "50", RateKeeps::seconds).scene;
    EXPECT_EQ(trackAt(seconds, p.at(p.zone, "radius")).keys->back().frame, 50);
    EXPECT_EQ(trackAt(seconds, p.at(p.gesture, "when-over")).value, 100);
    EXPECT_EQ(momentAt(seconds, 0).loopFrames, 2 * momentAt(p.scene, 0).loopFrames);
    EXPECT_NE(sentenceOf([&] { setRate(p.scene, "0", RateKeeps::frames); }), "");
}

TEST(FormulaNumber, MovesWithTimeAndOtherNumbers) {
    Lift p;
    p.set(p.zone, "softEdge", {3});
    p.formula(p.zone, "radius", "2 + sin(2 * pi * loop) * Swell.softEdge");
    const double loop = momentAt(p.scene, 0).loopFrames;
    EXPECT_NEAR(p.number(p.zone, "radius", loop / 4), 5, 1e-5);
    EXPECT_NEAR(p.number(p.zone, "radius", loop / 2), 2, 1e-5);
    p.scene = rename(p.scene, p.zone, "Tide").scene;
    EXPECT_NE(toJson(p.scene).find("Tide.softEdge"), std::string::npos);
    EXPECT_NEAR(p.number(p.zone, "radius", loop / 4), 5, 1e-5);
    EXPECT_EQ(toJson(parseProject(toJson(p.scene), "again")), toJson(p.scene));
}

TEST(FormulaNumber, OfAnInstanceMovesAmountsOnly) {
    Lift p;
    p.formula(p.gesture, "positionAmount", "i * 2 + t", 1);
    const auto rows = p.rows(50);
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(rows[static_cast<std::size_t>(i)].position.y, 2 * i + 2, 1e-5);
    const auto said = sentenceOf([&] { p.formula(p.zone, "radius", "i + 1"); });
    EXPECT_NE(said.find("same for all instances"), std::string::npos) << said;
}

TEST(FormulaNumber, WhatIsNoNumberKeepsTheInstanceAndIsCounted) {
    Lift p;
    p.formula(p.gesture, "positionAmount", "1 / (i - 2)", 1);
    const auto rows = p.rows(0);
    EXPECT_NEAR(rows[0].position.y, -0.5, 1e-6);
    EXPECT_EQ(rows[2].position.y, 0);
    EXPECT_EQ(p.result()->cards[0].notFinite, 1);
    p.formula(p.zone, "radius", "1 / 0");
    EXPECT_EQ(p.number(p.zone, "radius", 0), 100) << "its own value stands";
    EXPECT_NE(troubleOf(p.scene, trackAt(p.scene, p.at(p.zone, "radius")), 0), "");
}

TEST(FormulaNumber, IsSeenByEveryInstanceAtItsOwnTime) {
    Lift p;
    p.formula(p.gesture, "strength", "100 * sin(t)");
    p.choose(p.gesture, "when-by", "number");
    p.set(p.gesture, "when-over", {40});
    const auto rows = p.rows(60);
    for (int i = 0; i < 5; ++i) EXPECT_NEAR(rows[static_cast<std::size_t>(i)].position.y, std::sin((60 - 10 * i) / 25.0), 1e-4) << i;
}

TEST(Link, GoesFromRangeToRange) {
    Lift p;
    p.key(p.zone, "softEdge", {{0, 0, Ease::linear}, {10, 10, Ease::linear}});
    Link link{toText(p.scene, p.at(p.zone, "softEdge")), 0, 10, 8, 4};
    const auto radius = [&](const Link& l, double frame) {
        const Scene linked = setLink(p.scene, p.at(p.zone, "radius"), l).scene;
        return *valueAtAddress(linked, toText(linked, p.at(p.zone, "radius")), frame);
    };
    EXPECT_NEAR(radius(link, 5), 6, 1e-12) << "ends swapped: larger there is smaller here";
    link.delay = 2;
    EXPECT_NEAR(radius(link, 5), 8 - 0.4 * 3, 1e-12);
    link.step = 2;
    EXPECT_NEAR(radius(link, 5), 6, 1e-12);
    link = {link.to, 0, 5, 0, 1};
    EXPECT_NEAR(radius(link, 10), 2, 1e-12);
    link.clip = true;
    EXPECT_NEAR(radius(link, 10), 1, 1e-12);
    link.curve = {{0, 0, 0, 0}, {1, 1, 2, 2}};  // x²
    EXPECT_NEAR(radius(link, 2.5), 0.25, 1e-6);
}

TEST(Link, CirclesAreRefusedWithTheirChain) {
    Lift p;
    const Address radius = p.at(p.zone, "radius"), edge = p.at(p.zone, "softEdge"), strength = p.at(p.gesture, "strength");
    p.scene = setLink(p.scene, radius, suggestedLink(p.scene, radius, edge)).scene;
    p.formula(p.zone, "softEdge", "Rise.strength / 100");
    const std::string said = sentenceOf([&] { setLink(p.scene, strength, suggestedLink(p.scene, strength, radius)); });
    EXPECT_NE(said.find("Rise strength → Swell radius → Swell soft edge → Rise strength"), std::string::npos) << said;
    EXPECT_EQ(readersOf(p.scene, edge), (std::vector<Address>{radius}));
    EXPECT_NE(sentenceOf([&] { setNumber(p.scene, radius, 3, 0); }), "") << "a linked number is not set by hand";
}

TEST(Link, OfWhatWasDeletedKeepsItsOwnValue) {
    Lift p;
    const ObjectId other = p.Build::zone(p.gesture, "ball");
    const Address radius = p.at(p.zone, "radius");
    p.scene = setLink(p.scene, radius, suggestedLink(p.scene, radius, p.at(other, "radius"))).scene;
    p.scene = remove(p.scene, other).scene;
    EXPECT_EQ(p.number(p.zone, "radius", 0), 100);
    EXPECT_NE(troubleOf(p.scene, trackAt(p.scene, radius), 0).find("deleted"), std::string::npos);
    EXPECT_EQ(toJson(parseProject(toJson(p.scene), "again")), toJson(p.scene));
}

TEST(Hanging, KeepsTheWorldPlaceAndMovesAlong) {
    Lift p;
    Edit edit = addMount(p.scene);
    p.scene = edit.scene;
    const ObjectId mount = edit.made;
    p.set(mount, "position", {1, 2, 3});
    p.set(mount, "rotation", {20, 70, -30});
    p.set(p.zone, "position", {4, 0, -1});
    p.set(p.zone, "rotation", {10, 20, 30});
    const WorldPose before = poseAt(p.scene, p.zone, 0, making::store());
    p.scene = hang(p.scene, p.zone, mount, 0, making::store()).scene;
    const WorldPose after = poseAt(p.scene, p.zone, 0, making::store());
    EXPECT_LT(glm::distance(before.position, after.position), 1e-4f);
    EXPECT_GT(std::abs(glm::dot(before.rotation, after.rotation)), 1 - 1e-5f);
    p.set(mount, "position", {1, 2, 8});
    EXPECT_LT(glm::distance(poseAt(p.scene, p.zone, 0, making::store()).position, before.position + glm::vec3(0, 0, 5)), 1e-4f);
    const std::string said = sentenceOf([&] { hang(p.scene, mount, p.zone, 0, making::store()); });
    EXPECT_NE(said.find("Mount → Swell → Mount"), std::string::npos) << said;
    p.scene = hang(p.scene, p.zone, {}, 0, making::store()).scene;
    EXPECT_LT(glm::distance(poseAt(p.scene, p.zone, 0, making::store()).position, before.position + glm::vec3(0, 0, 5)), 1e-4f);
}

TEST(Hanging, FormulasStayAndCountFromThere) {
    Lift p;
    Edit edit = addMount(p.scene);
    p.scene = edit.scene;
    p.set(edit.made, "position", {1, 2, 3});
    p.set(p.zone, "position", {4, 0, -1});
    const Address height = addressOf(p.scene, p.zone, "position", 1);
    p.scene = setFormula(p.scene, height, "frame / 10").scene;
    edit = hang(p.scene, p.zone, edit.made, 0, making::store());
    p.scene = edit.scene;
    ASSERT_TRUE(trackAt(p.scene, height).formula);
    EXPECT_EQ(trackAt(p.scene, height).formula->text, "frame / 10");
    // The other two keep their place in the world.
    for (const double frame : {0.0, 20.0}) {
        const glm::vec3 now = poseAt(p.scene, p.zone, frame, making::store()).position;
        EXPECT_LT(glm::distance(now, glm::vec3(4, 2 + frame / 10, -1)), 1e-4f) << frame;
    }
    EXPECT_NE(edit.label.find("count from there"), std::string::npos) << edit.label;
}

TEST(Hanging, FromTheSwarmItActsOnIsNoCircle) {
    Lift p;
    p.set(p.swarm, "scale", {3});
    p.set(p.swarm, "position", {0, 1, 0});
    p.scene = hang(p.scene, p.zone, p.swarm, 0, making::store()).scene;
    p.set(p.swarm, "position", {0, 5, 0});
    EXPECT_NEAR(poseAt(p.scene, p.zone, 0, making::store()).position.y, 4, 1e-5);
    EXPECT_EQ(poseAt(p.scene, p.zone, 0, making::store()).scale, 1) << "size is never inherited";
    EXPECT_FLOAT_EQ(p.rows()[0].position.y, 5 + 3);
}

TEST(Hanging, ACurveFromAFileIsRefusedAndNothingMoves) {
    Lift p;
    Edit edit = addShape(p.scene, *findKind(Family::shape, "artwork"));
    p.scene = setValue(edit.scene, addressOf(edit.scene, edit.made, "file"), std::string("sign.svg")).scene;
    const std::string said = sentenceOf([&] { hang(p.scene, p.zone, edit.made, 0, making::store()); });
    EXPECT_NE(said.find("reads its curves from a file"), std::string::npos) << said;
}

TEST(Hanging, FollowsACurveByShareOfItsLength) {
    Lift p;
    Edit edit = addShape(p.scene, *findKind(Family::shape, "circle"));
    p.scene = edit.scene;
    p.set(edit.made, "radius", {2});
    p.scene = hang(p.scene, p.zone, edit.made, 0, making::store()).scene;
    p.formula(p.zone, "hang-along", "100 * loop");
    const double loop = momentAt(p.scene, 0).loopFrames;
    const glm::vec3 start = poseAt(p.scene, p.zone, 0, making::store()).position,
                    half = poseAt(p.scene, p.zone, loop / 2, making::store()).position;
    EXPECT_NEAR(glm::length(start), 2, 0.01);
    EXPECT_LT(glm::length(start + half), 0.02f);
    EXPECT_LT(glm::distance(start, poseAt(p.scene, p.zone, loop, making::store()).position), 1e-5f);
    // Its Z goes along the circle: across the radius.
    const glm::vec3 along = poseAt(p.scene, p.zone, 0, making::store()).rotation * glm::vec3(0, 0, 1);
    EXPECT_NEAR(glm::dot(along, start) / 2, 0, 0.05);
    EXPECT_NEAR(glm::length(along), 1, 1e-5);
}
