// The scene list: its outline, groups, order, and copies of things.
#include <algorithm>

#include "core/base/error.h"
#include "core/edit/arrange_edits.h"
#include "core/edit/rail_edits.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/read/outline.h"
#include "core/resolve/references.h"
#include "core/resolve/soundness.h"

using namespace gswarm;
using making::Build;

namespace {

const OutlineRow* rowOf(const std::vector<OutlineRow>& rows, ObjectId id) {
    for (const OutlineRow& row : rows) {
        if (row.id == id) return &row;
        if (const OutlineRow* found = rowOf(row.under, id)) return found;
    }
    return nullptr;
}

std::vector<ObjectId> idsUnder(const OutlineRow& row) {
    std::vector<ObjectId> ids;
    for (const OutlineRow& under : row.under) ids.push_back(under.id);
    return ids;
}

int times(const std::vector<OutlineRow>& rows, ObjectId id) {
    int sum = 0;
    for (const OutlineRow& row : rows) sum += (row.id == id ? 1 : 0) + times(row.under, id);
    return sum;
}

Scene reread(const Scene& scene) { return parseProject(toJson(scene), "x"); }

}  // namespace

TEST(Outline, ASwarmHoldsItsStockFormationsAndGesturesWithTheirZones) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId ground = b.standOn("elements", "ball"), gesture = b.gesture(), zone = b.zone(gesture, "ball");
    const auto rows = outlineOf(b.scene);
    ASSERT_EQ(rows.front().id, b.swarm);
    EXPECT_EQ(idsUnder(rows.front()), (std::vector<ObjectId>{b.shape, b.formation, gesture}));
    EXPECT_EQ(idsUnder(*rowOf(rows, b.formation)), std::vector<ObjectId>{ground});
    EXPECT_EQ(idsUnder(*rowOf(rows, gesture)), std::vector<ObjectId>{zone});
    EXPECT_EQ(rows.back().id, b.scene.project().id);
    for (const ObjectId id : b.scene.order) EXPECT_EQ(times(rows, id), 1) << b.scene.at(id).name;
}

TEST(Outline, WhatSeveralUseStandsUnderEachAndSaysSo) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId one = b.gesture(), two = b.gesture(), zone = b.zone(one, "ball");
    b.scene = weaveZone(b.scene, two, zone).scene;
    const Edit other = addSwarm(b.scene);
    b.scene = shareCard(other.scene, b.scene.at(b.swarm).list("rail").front(), other.made).scene;
    const auto rows = outlineOf(b.scene);
    EXPECT_EQ(times(rows, one), 2);
    EXPECT_TRUE(rowOf(rows, one)->shared);
    EXPECT_EQ(times(rows, zone), 3);
    EXPECT_FALSE(rowOf(rows, two)->shared);
    // What nothing uses stands by itself.
    b.scene = addShape(b.scene, *findKind(Family::shape, "ball")).scene;
    const ObjectId ball = b.scene.all(ObjectType::shape).back();
    const auto top = outlineOf(b.scene);
    EXPECT_TRUE(std::any_of(top.begin(), top.end(), [&](const OutlineRow& row) { return row.id == ball; }));
}

TEST(Groups, HoldThingsAndEachOtherAndAreKeptInTheFile) {
    Build b = Build::grid(3, 1, 1);
    const ObjectId mount = [&] {
        const Edit edit = addMount(b.scene);
        b.scene = edit.scene;
        return edit.made;
    }();
    const Edit inner = groupThings(b.scene, {b.swarm, mount}, "Reef");
    const Edit outer = groupThings(inner.scene, {inner.made});
    EXPECT_EQ(outer.scene.at(b.swarm).group, inner.made);
    EXPECT_EQ(outer.scene.at(inner.made).group, outer.made);
    refuseUnsound(outer.scene);
    EXPECT_TRUE(reread(outer.scene) == outer.scene);
    const auto rows = outlineOf(outer.scene);
    EXPECT_EQ(idsUnder(*rowOf(rows, outer.made)), std::vector<ObjectId>{inner.made});
    EXPECT_EQ(idsUnder(*rowOf(rows, inner.made)), (std::vector<ObjectId>{b.swarm, mount}));
    EXPECT_THROW(moveToGroup(outer.scene, {outer.made}, inner.made), Error) << "a group in itself";
    EXPECT_THROW(groupThings(outer.scene, {b.formation}), Error) << "a formation belongs to its swarm";
    // Without the group its things stand where it stood.
    const Edit gone = remove(outer.scene, inner.made);
    EXPECT_EQ(gone.scene.at(b.swarm).group, outer.made);
    EXPECT_FALSE(moveToGroup(gone.scene, {b.swarm}, {}).scene.at(b.swarm).group);
}

TEST(Groups, ThatAreLostOrHoldThemselvesAreRefusedInOneSentence) {
    Build b = Build::grid(1, 1, 1);
    const Edit one = groupThings(b.scene, {b.swarm}, "Reef"), two = groupThings(one.scene, {one.made}, "Sea");
    std::string text = toJson(two.scene);
    const std::string lost = toText(two.made);
    const auto refusal = [](const std::string& json) {
        try {
            parseProject(json, "x");
            return std::string();
        } catch (const Error& error) {
            return std::string(error.what());
        }
    };
    std::string circle = text;
    // The outer group says that it stands in the inner one.
    const auto at = circle.find("\"id\": \"" + lost);
    ASSERT_NE(at, std::string::npos);
    circle.insert(circle.find(",", at) + 1, "\n   \"inGroup\": \"" + toText(one.made) + "\",");
    EXPECT_NE(refusal(circle).find("stands in itself"), std::string::npos) << refusal(circle);
    std::string wrong = text;
    for (auto found = wrong.find("\"inGroup\": \"" + lost); found != std::string::npos; found = wrong.find("\"inGroup\": \"" + lost))
        wrong.replace(found + 12, lost.size(), "o00000000000");
    EXPECT_NE(refusal(wrong).find("not in the project"), std::string::npos) << refusal(wrong);
}

TEST(Order, ThingsMoveBeforeOthersOfTheirType) {
    Scene scene = emptyScene();
    std::vector<ObjectId> swarms;
    for (int k = 0; k < 4; ++k) {
        const Edit edit = addSwarm(scene);
        scene = edit.scene;
        swarms.push_back(edit.made);
    }
    const Scene moved = moveBefore(scene, {swarms[2], swarms[3]}, swarms[0]).scene;
    EXPECT_EQ(moved.all(ObjectType::swarm), (std::vector<ObjectId>{swarms[2], swarms[3], swarms[0], swarms[1]}));
    EXPECT_EQ(moveBefore(moved, {swarms[2]}, {}).scene.all(ObjectType::swarm).back(), swarms[2]);
    EXPECT_EQ(reread(moved).all(ObjectType::swarm), moved.all(ObjectType::swarm));
}

TEST(Duplicate, ASwarmHasGesturesAndZonesOfItsOwnThatReadOneAnother) {
    Build b = Build::grid(4, 1, 4);
    const ObjectId g = b.gesture("noise"), zone = b.zone(g, "ball"), shared = b.gesture();
    b.set(g, "position", true).set(g, "positionAmount", {0, 1, 0}).set(zone, "radius", {2});
    b.set(shared, "rotation", true).set(shared, "rotationAmount", {0, 30, 0});
    // The strength of one card follows the other's zone.
    b.scene =
        setValue(b.scene, addressOf(b.scene, g, "strength"),
                 Numbers{Track{
                     100,
                     nullptr,
                     {},
                     {},
                     std::make_shared<const Formula>(Formula{"r * 30", {{"r", toText(b.scene, addressOf(b.scene, zone, "radius"))}}})}})
            .scene;
    const Edit other = addSwarm(b.scene);
    const ObjectId sharing = other.made;
    b.scene = shareCard(other.scene, b.scene.at(b.swarm).list("rail").back(), sharing).scene;

    const Edit copy = duplicateThings(b.scene, {b.swarm});
    refuseUnsound(copy.scene);
    ASSERT_EQ(copy.made.type(), ObjectType::swarm);
    const auto gestureAt = [&](std::size_t card) {
        return referenceOf(copy.scene.at(copy.scene.at(copy.made).list("rail")[card]).part("entry"), "gesture");
    };
    EXPECT_NE(gestureAt(0), g);
    EXPECT_EQ(gestureAt(1), shared) << "what another swarm uses too stays shared";
    const auto zones = wovenZones(copy.scene, gestureAt(0));
    ASSERT_EQ(zones.size(), 1u);
    EXPECT_NE(zones.front(), zone);
    EXPECT_NE(referenceOf(copy.scene.at(copy.made).part("place"), "formation"), b.formation);
    // The same instances; and its own zone alone moves them.
    Build both = b;
    both.scene = copy.scene;
    const auto before = both.rows();
    both.swarm = copy.made;
    const auto same = both.rows();
    ASSERT_EQ(same.size(), before.size());
    for (std::size_t i = 0; i < same.size(); ++i) EXPECT_EQ(same[i].position, before[i].position) << i;
    both.set(zone, "radius", {0.1});
    EXPECT_EQ(both.rows()[5].position, same[5].position);
    both.set(zones.front(), "radius", {0.1});
    EXPECT_NE(both.rows()[5].position, same[5].position);
}

TEST(Duplicate, AGestureGetsACardBesideItsOwnAndAGroupItsThings) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId one = b.gesture(), two = b.gesture();
    const Edit copy = duplicateThings(b.scene, {one});
    const auto& rail = copy.scene.at(b.swarm).list("rail");
    ASSERT_EQ(rail.size(), 3u);
    const auto at = [&](std::size_t k) { return referenceOf(copy.scene.at(rail[k]).part("entry"), "gesture"); };
    EXPECT_EQ(at(0), one);
    EXPECT_EQ(at(1), copy.made);
    EXPECT_EQ(at(2), two);
    const Edit group = groupThings(b.scene, {b.swarm}, "Reef");
    const Edit groups = duplicateThings(group.scene, {group.made});
    EXPECT_EQ(groups.scene.all(ObjectType::swarm).size(), 2u);
    EXPECT_EQ(groups.scene.at(groups.scene.all(ObjectType::swarm).back()).group, groups.made);
    EXPECT_EQ(groups.scene.at(b.swarm).group, group.made);
    refuseUnsound(groups.scene);
    EXPECT_THROW(duplicateThings(b.scene, {b.scene.project().id}), Error);
    // A stock entry and a formation stay with their swarm.
    const Edit stock = duplicateThings(b.scene, {b.stock, b.formation});
    EXPECT_EQ(stock.scene.at(b.swarm).list("stock").size(), 2u);
    EXPECT_EQ(stock.scene.at(b.swarm).list("formations").size(), 2u);
}
