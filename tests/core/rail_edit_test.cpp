// Cards copied and shared between swarms, named values, circles, what new gestures refer to, variations.
#include <gtest/gtest.h>

#include "core/base/error.h"
#include "core/edit/history.h"
#include "core/edit/rail_edits.h"
#include "core/edit/variations.h"
#include "core/file/project_file.h"
#include "core/formula/bind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/pattern/pattern_kind.h"
#include "core/resolve/references.h"
#include "core/scene/chosen_ids.h"
#include "core/zone/zone_kind.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// Two swarms; the first has a gesture that lifts inside a ball.
struct Two {
    Build b = Build::grid(3, 1, 3);
    ObjectId other, gesture, zone, entry;
    Two() {
        const Edit second = addSwarm(b.scene);
        b.scene = second.scene;
        other = second.made;
        gesture = b.gesture();
        b.set(gesture, "position", true);
        zone = b.zone(gesture, "ball");
        entry = b.scene.at(b.swarm).list("rail").front();
    }
    float highest(ObjectId swarm) {
        Evaluator evaluator(1);
        Progress progress;
        const auto result = evaluator.evaluate(b.scene, swarm, 0, {}, progress);
        float top = -9;
        for (int i = 0; i < result->count; ++i) top = std::max(top, result->columns->matrix[12 * static_cast<std::size_t>(i) + 7]);
        return top;
    }
};

}  // namespace

TEST(RailEdit, ASharedGestureIsEditedInOneAndChangedInAll) {
    Two t;
    EXPECT_EQ(usersOf(t.b.scene, t.gesture), 1);
    t.b.scene = shareCard(t.b.scene, t.entry, t.other).scene;
    EXPECT_EQ(usersOf(t.b.scene, t.gesture), 2);
    t.b.set(t.gesture, "positionAmount", {0, 4, 0}).set(t.zone, "radius", {9});
    EXPECT_NEAR(t.highest(t.b.swarm), 4, 1e-5f);
    EXPECT_NEAR(t.highest(t.other), 4.5, 0.51f);
    // The file keeps it shared.
    EXPECT_EQ(usersOf(parseProject(toJson(t.b.scene), "x"), t.gesture), 2);
    // Made single it goes its own way; the other stays.
    const ObjectId second = t.b.scene.at(t.other).list("rail").front();
    const Edit single = giveOwnCopy(t.b.scene, second);
    t.b.scene = single.scene;
    t.b.set(single.made, "positionAmount", {0, -7, 0});
    EXPECT_NEAR(t.highest(t.b.swarm), 4, 1e-5f);
    EXPECT_LT(t.highest(t.other), 1);
    EXPECT_THROW(giveOwnCopy(t.b.scene, second), Error);
    // Taking a shared card away from one rail leaves the gesture to the other.
    t.b.scene = shareCard(t.b.scene, t.entry, t.other).scene;
    t.b.scene = remove(t.b.scene, t.entry).scene;
    EXPECT_TRUE(t.b.scene.find(t.gesture));
}

TEST(RailEdit, ACopyIsItsOwnAndDuplicatesAskWhoseZones) {
    Two t;
    const Edit copy = copyCard(t.b.scene, t.entry, t.other);
    EXPECT_NE(copy.made, t.gesture);
    EXPECT_EQ(usersOf(copy.scene, copy.made), 1);
    EXPECT_EQ(referenceOf(copy.scene.at(copy.scene.at(copy.made).list("weave").front()).part("entry"), "zone"), t.zone);
    const Edit own = duplicateCard(t.b.scene, t.entry, ZonesOfCopy::own);
    const ObjectId zone = referenceOf(own.scene.at(own.scene.at(own.made).list("weave").front()).part("entry"), "zone");
    EXPECT_NE(zone, t.zone);
    EXPECT_NE(own.scene.at(zone).name, own.scene.at(t.zone).name);
    EXPECT_EQ(own.scene.at(t.b.swarm).list("rail").size(), 2u);
}

TEST(RailEdit, AWholeRailIsCopiedOrShared) {
    Two t;
    t.b.gesture();
    t.b.scene = shareRail(t.b.scene, t.b.swarm, t.other).scene;
    EXPECT_EQ(t.b.scene.at(t.other).list("rail").size(), 2u);
    EXPECT_EQ(usersOf(t.b.scene, t.gesture), 2);
    t.b.scene = copyRail(t.b.scene, t.b.swarm, t.other).scene;
    EXPECT_EQ(t.b.scene.at(t.other).list("rail").size(), 4u);
    EXPECT_EQ(usersOf(t.b.scene, t.gesture), 2);
}

TEST(RailEdit, NamedValuesAreFoundByTheirNameInTheOtherSwarm) {
    Two t;
    t.b.scene = addNamedValue(t.b.scene, t.b.swarm, "glow").scene;
    const ObjectId glow = t.b.scene.at(t.b.swarm).list("namedValues").front();
    t.b.set(t.gesture, "value", true).set(t.gesture, "valueOf", Value(glow));
    const Scene before = t.b.scene;
    // A copy takes the number along.
    t.b.scene = copyCard(before, t.entry, t.other).scene;
    ASSERT_EQ(t.b.scene.at(t.other).list("namedValues").size(), 1u);
    EXPECT_EQ(t.b.scene.at(t.b.scene.at(t.other).list("namedValues").front()).name, "glow");
    // A shared card uses the number of the same name, and waits where there is none.
    t.b.scene = shareCard(before, t.entry, t.other).scene;
    Evaluator evaluator(1);
    Progress progress;
    EXPECT_NE(evaluator.evaluate(t.b.scene, t.other, 0, {}, progress)->cards[0].waits.find("belongs to another swarm"), std::string::npos);
    const Edit number = addNamedValue(t.b.scene, t.other, "glow");
    t.b.scene = rename(number.scene, number.made, "glow").scene;
    EXPECT_EQ(evaluator.evaluate(t.b.scene, t.other, 0, {}, progress)->cards[0].waits, "");
}

TEST(RailEdit, CirclesBetweenSwarmsAreRefusedWhenTheyAreMade) {
    Two t;
    const ObjectId near = t.b.zone(t.gesture, "nearSwarm");
    t.b.set(near, "swarm", Value(t.other));
    const auto circle = [](const auto& make) {
        try {
            make();
            return std::string();
        } catch (const Error& error) {
            return std::string(error.what());
        }
    };
    const std::string shared = circle([&] { shareCard(t.b.scene, t.entry, t.other); });
    EXPECT_NE(shared.find("circle"), std::string::npos) << shared;
    EXPECT_NE(circle([&] { copyRail(t.b.scene, t.b.swarm, t.other); }).find("circle"), std::string::npos);
    // The other way round through its formation.
    const ObjectId formation = t.b.scene.at(t.other).list("formations").front();
    t.b.scene = setKind(t.b.scene, formation, "formation", *findKind(Family::formation, "grid")).scene;
    const std::string stands = circle([&] { setFormation(t.b.scene, formation, *findKind(Family::formation, "onSwarm")); });
    EXPECT_NE(stands.find("circle"), std::string::npos) << stands;
    EXPECT_NE(circle([&] { setValue(t.b.scene, addressOf(t.b.scene, near, "swarm"), Value(t.b.swarm)); }).find("→"), std::string::npos);
}

TEST(RailEdit, NewGesturesAndZonesHaveSomethingToReferTo) {
    for (const GestureStart& start : gestureStarts()) {
        Build b = Build::grid(4, 1, 4);
        b.scene = addGesture(b.scene, b.swarm, start.make()).scene;
        EXPECT_EQ(b.result()->cards[0].waits, "") << start.id;
    }
    for (const Kind* kind : kindsOf(Family::zone)) {
        Two t;
        t.b.scene = addZone(t.b.scene, t.gesture, *kind).scene;
        EXPECT_EQ(t.b.result()->cards[0].waits, "") << kind->id;
    }
    for (const Kind* kind : kindsOf(Family::pattern)) {
        Two t;
        t.b.scene = addNamedValue(t.b.scene, t.b.swarm, "glow").scene;
        t.b.scene = setKind(t.b.scene, t.gesture, "pattern", *kind).scene;
        EXPECT_EQ(t.b.result()->cards[0].waits, "") << kind->id;
    }
}

TEST(RailEdit, ADeletedShapeSwarmOrZoneMakesTheGestureWait) {
    for (const char* kind : {"nearCurve", "nearMesh", "nearSwarm"}) {
        Two t;
        const Edit edit = addZone(t.b.scene, t.gesture, *findKind(Family::zone, kind));
        t.b.scene = edit.scene;
        const ObjectId thing = referenceOf(t.b.scene.at(edit.made).part("form"), std::string(kind) == "nearSwarm" ? "swarm" : "shape");
        ASSERT_TRUE(t.b.scene.find(thing)) << kind;
        t.b.scene = remove(t.b.scene, thing).scene;
        const auto result = t.b.result();
        EXPECT_NE(result->cards[0].waits.find("deleted"), std::string::npos) << kind << result->cards[0].waits;
        EXPECT_EQ(result->cards[0].touched, 0);
        EXPECT_EQ(result->visible, 9);
    }
}

TEST(WovenZones, AreThoseOfGroupsTooInReadingOrder) {
    Two t;
    std::vector<ObjectId> zones = wovenZones(t.b.scene, t.gesture);
    ASSERT_EQ(zones.size(), 1u);
    for (const char* kind : {"box", "slab", "tube"}) {
        const Edit edit = addZone(t.b.scene, t.gesture, *findKind(Family::zone, kind));
        t.b.scene = edit.scene;
        zones.push_back(edit.made);
    }
    EXPECT_EQ(wovenZones(t.b.scene, t.gesture), zones);
    // The second and third into a group, and that into another.
    const auto entry = [&](std::size_t k) { return t.b.scene.at(t.gesture).list("weave")[k]; };
    t.b.scene = groupEntry(t.b.scene, entry(1)).scene;
    t.b.scene = moveIntoGroup(t.b.scene, entry(2)).scene;
    t.b.scene = groupEntry(t.b.scene, entry(1)).scene;
    EXPECT_EQ(t.b.scene.at(t.gesture).list("weave").size(), 3u);
    EXPECT_EQ(wovenZones(t.b.scene, t.gesture), zones);
    t.b.scene = remove(t.b.scene, zones[2]).scene;
    zones.erase(zones.begin() + 2);
    EXPECT_EQ(wovenZones(t.b.scene, t.gesture), zones);
}

TEST(ChosenIds, AreKeptAscendingOnce) {
    EXPECT_EQ(chosenText({9, 3, 9, 18446744073709551615u}), "3 9 18446744073709551615");
    EXPECT_EQ(chosenIds("3  9 18446744073709551615"), (std::vector<std::uint64_t>{3, 9, 18446744073709551615u}));
    EXPECT_THROW(chosenIds("3 x"), Error);
    EXPECT_THROW(chosenIds("99999999999999999999999"), Error);
    Two t;
    EXPECT_THROW(addChosenZone(t.b.scene, t.gesture, {}), Error);
}

TEST(Variations, SeedsCountUpAndOtherNumbersSpread) {
    const Parameter& seed = randomPattern.parameters[static_cast<std::size_t>(randomPattern.indexOf("seed"))];
    EXPECT_EQ(standardVariations(seed, 7), (VariationRange{7, 15}));
    const auto seeds = valuesOf(seed, {7, 15});
    for (int k = 0; k < variationCount; ++k) EXPECT_EQ(seeds[static_cast<std::size_t>(k)], 7 + k);
    const Parameter& radius = ballZone.parameters[static_cast<std::size_t>(ballZone.indexOf("radius"))];
    EXPECT_EQ(standardVariations(radius, 4), (VariationRange{2, 6}));
    EXPECT_EQ(valuesOf(radius, {2, 6})[4], 4);  // what it is now stands in the middle
    EXPECT_EQ(standardVariations(radius, 0), (VariationRange{radius.suggested.low, radius.suggested.high}));
    const Parameter& count = nearestZone.parameters[static_cast<std::size_t>(nearestZone.indexOf("count"))];
    const auto counts = standardVariations(count, 2);
    EXPECT_EQ(counts.from, 1);
    EXPECT_EQ(counts.to, 9);
}

TEST(Variations, AGestureOffersItsSeedOrItsStrongestAmount) {
    Build b = Build::grid(2, 1, 2);
    const ObjectId chance = b.gesture("random"), lift = b.gesture(), idle = b.gesture();
    EXPECT_EQ(toText(b.scene, variedNumber(b.scene, chance)), toText(chance) + "/pattern-seed");
    b.set(lift, "position", true).set(lift, "positionAmount", {1, -3, 0});
    EXPECT_EQ(toText(b.scene, variedNumber(b.scene, lift)), toText(lift) + "/positionAmount.y");
    EXPECT_EQ(toText(b.scene, variedNumber(b.scene, idle)), toText(idle) + "/strength");
}
