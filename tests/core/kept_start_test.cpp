// Starts of one's own: what is kept comes back in another project as it was, and brings only what it needs.
#include <fstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/edit/kept_start.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/exchange/start_files.h"
#include "core/file/project_file.h"
#include "core/file/start_file.h"
#include "core/force/force_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "core/resolve/soundness.h"

using namespace gswarm;
using making::Build;

namespace {

/// A rail of two cards, the first with a zone, the second reading a named value that the first changes.
Build reef() {
    Build b = Build::grid(5, 1, 5);
    const ObjectId g = b.gesture("noise"), zone = b.zone(g, "ball");
    b.set(g, "position", true).set(g, "positionAmount", {0, 2, 0}).set(zone, "radius", {3}).set(zone, "softEdge", {1});
    const Edit value = addNamedValue(b.scene, b.swarm, "glow");
    b.scene = value.scene;
    b.set(g, "value", true);
    b.scene = setValue(b.scene, addressOf(b.scene, g, "valueOf"), value.made).scene;
    const ObjectId reads = b.gesture("namedValue");
    b.scene = setValue(b.scene, addressOf(b.scene, reads, "pattern-value"), value.made).scene;
    b.set(reads, "scale", true);
    b.formationKind("hexagons");
    return b;
}

KeptStart throughFile(const KeptStart& start) {
    const auto path = making::temporaryFolder() / "kept.gstart";
    saveStart(start, path);
    return loadStart(path);
}

Build emptyTarget() { return Build::grid(5, 1, 5).formationKind("hexagons"); }

}  // namespace

TEST(KeptStart, ARailDoesInAnotherProjectWhatItDid) {
    const Build from = reef();
    const KeptStart start = throughFile(keepStart(from.scene, StartOf::rail, from.swarm, from.swarm, "Reef rail"));
    EXPECT_EQ(start.of, StartOf::rail);
    EXPECT_EQ(start.name, "Reef rail");
    Build to = emptyTarget();
    const std::size_t shapes = to.scene.all(ObjectType::shape).size();
    to.scene = useStart(to.scene, start, {to.swarm, {}}).scene;
    refuseUnsound(to.scene);
    const auto before = from.rows(7), after = to.rows(7);
    ASSERT_EQ(after.size(), before.size());
    for (std::size_t i = 0; i < before.size(); ++i) {
        EXPECT_EQ(after[i].position, before[i].position) << i;
        EXPECT_EQ(after[i].scale, before[i].scale) << i;
    }
    EXPECT_EQ(to.scene.at(to.swarm).list("namedValues").size(), 1u) << "the named value came along";
    EXPECT_EQ(to.scene.all(ObjectType::swarm).size(), 1u);
    EXPECT_EQ(to.scene.all(ObjectType::shape).size(), shapes) << "nothing that it does not need";
    EXPECT_EQ(to.scene.all(ObjectType::camera).size(), 1u);
    // Once more: the named value is found by its name.
    to.scene = useStart(to.scene, start, {to.swarm, {}}).scene;
    EXPECT_EQ(to.scene.at(to.swarm).list("namedValues").size(), 1u);
    EXPECT_EQ(to.scene.at(to.swarm).list("rail").size(), 4u);
}

TEST(KeptStart, GesturesZonesFormationsAndSwarms) {
    const Build from = reef();
    const ObjectId gesture = from.scene.all(ObjectType::gesture).front(), zone = from.scene.all(ObjectType::zone).front();
    Build to = emptyTarget();
    const auto use = [&](StartOf of, ObjectId thing, const StartTarget& target) {
        const KeptStart start = throughFile(keepStart(from.scene, of, from.swarm, thing, from.scene.at(thing).name));
        const Edit edit = useStart(to.scene, start, target);
        refuseUnsound(edit.scene);
        return edit;
    };
    const Edit oneCard = use(StartOf::gesture, gesture, {to.swarm, {}});
    EXPECT_EQ(oneCard.scene.at(to.swarm).list("rail").size(), 1u);
    EXPECT_EQ(wovenZones(oneCard.scene, oneCard.made).size(), 1u);
    to.scene = oneCard.scene;

    const Edit woven = use(StartOf::zone, zone, {to.swarm, oneCard.made});
    EXPECT_EQ(wovenZones(woven.scene, oneCard.made).size(), 2u);
    EXPECT_EQ(woven.scene.all(ObjectType::gesture).size(), 1u);
    EXPECT_EQ(std::get<Numbers>(woven.scene.at(woven.made).part("form")["radius"]).front().value, 3);

    const Edit formation = use(StartOf::formation, from.formation, {to.swarm, {}});
    EXPECT_EQ(formation.scene.at(to.swarm).list("formations").size(), 2u);
    EXPECT_EQ(referenceOf(formation.scene.at(to.swarm).part("place"), "formation"), formation.made);

    const Edit swarm = use(StartOf::swarm, from.swarm, {});
    EXPECT_EQ(swarm.scene.all(ObjectType::swarm).size(), 2u);
    EXPECT_EQ(swarm.made.type(), ObjectType::swarm);
    Build whole = to;
    whole.scene = swarm.scene, whole.swarm = swarm.made;
    EXPECT_EQ(whole.rows(7)[3].position, from.rows(7)[3].position);
}

TEST(KeptStart, WhatCantBeKeptOrUsedIsToldAndChangesNothing) {
    Build b = Build::grid(2, 1, 1);
    EXPECT_THROW(keepStart(b.scene, StartOf::rail, b.swarm, b.swarm, "x"), Error) << "an empty rail";
    const ObjectId gesture = b.gesture();
    const Edit other = addSwarm(b.scene);
    EXPECT_THROW(keepStart(other.scene, StartOf::gesture, other.made, gesture, "x"), Error) << "a gesture of another swarm";
    const KeptStart start = keepStart(b.scene, StartOf::gesture, b.swarm, gesture, "x");
    EXPECT_THROW(useStart(emptyScene(), start, {}), Error) << "no swarm to put it into";
    const ObjectId zone = b.zone(gesture, "ball");
    const KeptStart ofZone = keepStart(b.scene, StartOf::zone, b.swarm, zone, "x");
    EXPECT_THROW(useStart(b.scene, ofZone, {b.swarm, {}}), Error) << "no gesture to act there";
}

TEST(KeptStart, ADamagedFileAndAProjectSayWhatTheyAre) {
    const auto folder = making::temporaryFolder() / "starts";
    std::filesystem::create_directories(folder);
    Build b = Build::grid(2, 1, 1);
    b.gesture();
    saveStart(keepStart(b.scene, StartOf::rail, b.swarm, b.swarm, "Good"), folder / "a.gstart");
    std::ofstream(folder / "b.gstart") << "{\"format\": \"gilded-swarm\"";
    saveProject(b.scene, folder / "c.gstart");
    const auto trouble = [&](const char* file) -> std::string {
        try {
            loadStart(folder / file);
            return "";
        } catch (const Error& error) {
            return error.what();
        }
    };
    EXPECT_EQ(loadStart(folder / "a.gstart").name, "Good");
    EXPECT_NE(trouble("b.gstart").find("b.gstart"), std::string::npos) << trouble("b.gstart");
    EXPECT_NE(trouble("c.gstart").find("keeps no start"), std::string::npos) << trouble("c.gstart");
    // A start is a project too: it opens, and saving it keeps what it is.
    const Scene opened = loadProject(folder / "a.gstart");
    saveProject(opened, folder / "d.gstart");
    EXPECT_EQ(loadStart(folder / "d.gstart").name, "Good");
}

TEST(KeptStart, AMaterialComesWithWhatItIsMixedFromOntoWhatIsToWearIt) {
    Build from = Build::grid(3, 1, 1);
    from.scene = rename(from.scene, from.material, "Reef skin").scene;
    from.set(from.material, "roughness", {0.37});
    const Edit mix = mixMaterial(from.scene, from.material);
    from.scene = mix.scene;
    const ObjectId gesture = from.gesture();
    from.set(mix.made, "by", std::string("weight")).set(mix.made, "gesture", Value(gesture));
    const KeptStart start = throughFile(keepStart(from.scene, StartOf::material, from.swarm, mix.made, "Reef mix"));
    EXPECT_EQ(start.scene.all(ObjectType::material).size(), 3u);
    EXPECT_TRUE(start.scene.all(ObjectType::swarm).empty());
    EXPECT_TRUE(start.scene.all(ObjectType::gesture).empty());

    Build to;
    const Edit worn = useStart(to.scene, start, {to.swarm, {}, to.stock});
    EXPECT_EQ(materialOf(worn.scene, to.stock), worn.made);
    const ObjectId first = referenceOf(worn.scene.at(worn.made).part("material"), "first");
    EXPECT_NEAR(std::get<Numbers>(worn.scene.at(first).part("material")["roughness"]).front().value, 0.37, 1e-9);
    EXPECT_EQ(worn.scene.all(ObjectType::material).size(), to.scene.all(ObjectType::material).size() + 3);
    const Edit alone = useStart(to.scene, start, {});
    EXPECT_EQ(materialOf(alone.scene, to.stock), to.material) << "nothing wears it";
    EXPECT_EQ(alone.scene.all(ObjectType::swarm).size(), 1u);
}

TEST(KeptStart, LeavesForcesAndSharedWorldsToTheProject) {
    Build from = Build::grid(2, 1, 2);
    const auto withBodies = [&](ObjectId swarm) {
        const Edit edit = addGesture(from.scene, swarm, standardObject(ObjectType::gesture, "Bodies", {&bodiesGesture}));
        from.scene = edit.scene;
        return edit.made;
    };
    const ObjectId bodies = withBodies(from.swarm);
    const Edit other = addSwarm(from.scene);
    from.scene = other.scene;
    from.set(withBodies(other.made), "with", Value(from.swarm));
    from.scene = addForce(from.scene, windForce).scene;
    for (const auto& [of, thing] : {std::pair{StartOf::rail, from.swarm}, {StartOf::gesture, bodies}, {StartOf::swarm, from.swarm}}) {
        const KeptStart start = throughFile(keepStart(from.scene, of, from.swarm, thing, "Bodies"));
        EXPECT_TRUE(start.scene.all(ObjectType::force).empty());
        EXPECT_EQ(start.scene.all(ObjectType::swarm).size(), 1u);
        Build to = emptyTarget();
        to.scene = useStart(to.scene, start, {to.swarm, {}}).scene;
        refuseUnsound(to.scene);
        EXPECT_TRUE(to.scene.all(ObjectType::force).empty());
    }
}

/// A picture on a material comes along, wherever the start and its folder are taken, and is not told of twice.
TEST(KeptStart, BringsTheFilesThatItReads) {
    const auto all = making::temporaryFolder() / "starts";
    const auto home = all / "home", kept = all / "kept", other = all / "other", taken = all / "taken";
    std::filesystem::create_directories(home / "pictures");
    std::filesystem::create_directories(kept), std::filesystem::create_directories(other);
    writeFileAtomically(home / "pictures" / "scales.png", "not looked at here");
    writeFileAtomically(other / "scales.png", "another picture");
    Build b = Build::grid(1, 1, 1);
    b.set(b.material, "colourPicture", std::string("pictures/scales.png")).set(b.material, "bumpPicture", std::string("gone.png"));
    const KeptStart start = keepStart(b.scene, StartOf::material, {}, b.material, "Scales");
    const auto missing = saveStartWithFiles(start, kept / "Scales.gstart", home);
    ASSERT_EQ(missing.size(), 1u);
    EXPECT_NE(missing.front().find("gone.png"), std::string::npos) << missing.front();
    std::filesystem::copy(kept, taken, std::filesystem::copy_options::recursive);
    std::filesystem::remove_all(kept);

    FileHashes hashes;
    for (int again = 0; again < 2; ++again) {
        const KeptStart brought = loadStartInto(taken / "Scales.gstart", other, hashes);
        Build to = emptyTarget();
        const Edit edit = useStart(to.scene, brought, {to.swarm, {}});
        const auto typed = std::get<std::string>(valueOf(edit.scene, addressOf(edit.scene, edit.made, "colourPicture")));
        // Of another content, a file of that name is left alone.
        EXPECT_EQ(typed, "scales-2.png");
        EXPECT_EQ(readFile(other / typed, 100), "not looked at here");
        EXPECT_EQ(readFile(other / "scales.png", 100), "another picture");
    }
    // It may come from anyone.
    std::string text = readFile(taken / "Scales.gstart", 1 << 20);
    const std::string inside = "Scales files/scales.png", outside = "../" + home.filename().string() + "/pictures/scales.png";
    text.replace(text.find(inside), inside.size(), outside);
    writeFileAtomically(taken / "Scales.gstart", text);
    EXPECT_THROW(loadStartInto(taken / "Scales.gstart", other, hashes), Error);
}
