// Tracks, ids, addresses, edits and undo.
#include <gtest/gtest.h>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>

#include "core/base/error.h"
#include "core/edit/history.h"
#include "core/edit/rail_edits.h"
#include "core/file/project_file.h"
#include "core/resolve/parse_value.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

Track keyed(std::vector<Key> keys) { return {keys.front().value, std::make_shared<const std::vector<Key>>(std::move(keys))}; }

}  // namespace

TEST(Track, EasesBetweenKeysAndHoldsOutside) {
    const Track track = keyed({{10, 0, Ease::linear}, {20, 10, Ease::eased}, {30, 20, Ease::hold}, {40, 5, Ease::eased}});
    for (const auto& [frame, wanted] :
         {std::pair{0.0, 0.0}, {10, 0}, {12.5, 2.5}, {25, 15}, {22.5, 10 + 10 * 0.15625}, {35, 20}, {40, 5}, {99, 5}})
        EXPECT_NEAR(keyedValueAt(track, frame), wanted, 1e-12) << frame;
}

RC_GTEST_PROP(Track, PiecesAgreeWithTheTrack, ()) {
    std::vector<Key> keys;
    double frame = *rc::gen::inRange(-50, 50);
    for (int k = *rc::gen::inRange(1, 8); k > 0; --k) {
        keys.push_back({frame, *rc::gen::inRange(-100, 100) / 10.0, static_cast<Ease>(*rc::gen::inRange(0, 8)),
                        *rc::gen::inRange(-9, 9) / 10.0, *rc::gen::inRange(-9, 9) / 10.0});
        frame += *rc::gen::inRange(1, 40);
    }
    Track track = keyed(keys);
    track.before = static_cast<Beyond>(*rc::gen::inRange(0, 4));
    track.after = static_cast<Beyond>(*rc::gen::inRange(0, 4));
    alignas(64) float offset[16], out[16];
    const double at = *rc::gen::inRange(-60, 300);
    for (int i = 0; i < 16; ++i) offset[i] = static_cast<float>(i) * -3.25f - 0.1f;
    const TrackPieces pieces = piecesOf(track, at - 50, at);
    readPieces(pieces, at, offset, 16, out);
    for (int i = 0; i < 16; ++i) RC_ASSERT(std::abs(out[i] - keyedValueAt(track, at + offset[i])) < 2e-3);
}

TEST(Track, KeysAreSetMovedAndTakenAway) {
    Track track{3};
    track = withKey(track, 5, 1, Ease::eased);
    track = withKey(track, 0, 2, Ease::eased);
    track = withKey(track, 5, 7, Ease::linear);
    ASSERT_EQ(track.keys->size(), 2u);
    EXPECT_EQ(keyedValueAt(track, 5), 7);
    track = withKey(withoutKey(track, 0), 9, 2, Ease::eased);
    EXPECT_EQ(track.keys->back().frame, 9);
    track = withoutKey(withoutKey(track, 5), 9);
    EXPECT_FALSE(track.keyed());
    EXPECT_EQ(track.value, 2);
}

TEST(ObjectId, TextComesBack) {
    for (int k = 0; k < 100; ++k) {
        const ObjectId id = newObjectId(ObjectType::zone);
        EXPECT_EQ(toText(id).size(), 12u);
        EXPECT_EQ(toText(id)[0], 'z');
        EXPECT_EQ(parseObjectId(toText(id)), id);
    }
    for (const char* bad : {"", "z", "z0000000000", "q00000000000", "zUUUUUUUUUUU", "z000000000000"})
        EXPECT_FALSE(parseObjectId(bad)) << bad;
}

TEST(Address, EveryParameterOfEveryObjectHasOne) {
    Build b;
    b.zone(b.gesture("wave"), "box");
    for (const auto& [id, object] : b.scene.objects)
        for (std::size_t s = 0; s < object->parts.size(); ++s)
            for (std::size_t p = 0; p < object->parts[s].values.size(); ++p) {
                const Address address{id, static_cast<int>(s), static_cast<int>(p), -1};
                EXPECT_EQ(parseAddress(b.scene, toText(b.scene, address)), address) << toText(b.scene, address);
            }
}

TEST(Address, TypedValuesAreChecked) {
    Build b;
    const Address scale = parseAddress(b.scene, "Swarm/scale"), place = parseAddress(b.scene, "Swarm/position"),
                  y = parseAddress(b.scene, "Swarm/position.y");
    EXPECT_EQ(std::get<Numbers>(parseValue(b.scene, scale, "2.5"))[0].value, 2.5);
    EXPECT_EQ(std::get<Numbers>(parseValue(b.scene, place, "1,2,3"))[2].value, 3);
    EXPECT_EQ(std::get<Numbers>(parseValue(b.scene, y, "-4"))[1].value, -4);
    for (const auto& [address, typed] : {std::pair{scale, "big"},
                                         {scale, "nan"},
                                         {scale, "0"},
                                         {scale, "1e300"},
                                         {place, "1,2"},
                                         {scale, ""},
                                         {parseAddress(b.scene, "Swarm/shown"), "maybe"}})
        EXPECT_THROW(parseValue(b.scene, address, typed), Error) << typed;
    for (const char* text : {"Swarm", "Nobody/scale", "Swarm/nothing", "Swarm/position.w", "Swarm/scale.x"})
        EXPECT_THROW(parseAddress(b.scene, text), Error) << text;
}

TEST(Edit, LeavesTheGivenSceneAlone) {
    const Build b = Build::grid(3, 1, 3);
    const std::string before = toJson(b.scene);
    const ObjectId entry = addGesture(b.scene, b.swarm, gestureStarts()[0].make()).scene.at(b.swarm).list("rail").back();
    EXPECT_TRUE(entry);
    setNumber(b.scene, addressOf(b.scene, b.swarm, "scale"), 3, 0);
    remove(b.scene, b.swarm);
    EXPECT_EQ(toJson(b.scene), before);
}

TEST(Edit, RemovingACardTakesItsGestureButLeavesZones) {
    Build b;
    const ObjectId g = b.gesture(), z = b.zone(g, "ball");
    const Scene after = remove(b.scene, b.scene.at(b.swarm).list("rail").front()).scene;
    EXPECT_FALSE(after.find(g));
    EXPECT_TRUE(after.find(z));
    EXPECT_TRUE(after.at(b.swarm).list("rail").empty());
}

TEST(Edit, AGestureWhoseZoneWasDeletedWaits) {
    Build b = Build::grid(2, 1, 1);
    const ObjectId g = b.gesture(), z = b.zone(g, "ball");
    b.set(g, "position", true);
    b.scene = remove(b.scene, z).scene;
    EXPECT_NEAR(b.rows()[0].position.y, 0, 1e-6f);
    EXPECT_NE(b.result()->cards[0].waits.find("was deleted"), std::string::npos) << b.result()->cards[0].waits;
}

TEST(Edit, DuplicatingACardCopiesTheGestureAndSharesTheZone) {
    Build b;
    const ObjectId g = b.gesture(), z = b.zone(g, "ball");
    const Edit edit = duplicateCard(b.scene, b.scene.at(b.swarm).list("rail").front(), ZonesOfCopy::shared);
    EXPECT_NE(edit.made, g);
    EXPECT_EQ(edit.scene.at(b.swarm).list("rail").size(), 2u);
    EXPECT_EQ(referenceOf(edit.scene.at(edit.scene.at(edit.made).list("weave").front()).part("entry"), "zone"), z);
    EXPECT_NE(edit.scene.at(edit.made).name, edit.scene.at(g).name);
}

TEST(Edit, ANewKindKeepsWhatBothHave) {
    Build b;
    b.formationKind("hexagons").set(b.formation, "spacing", {0.7}).formationKind("goldenSpiral");
    EXPECT_EQ(numberAt(b.scene, b.scene.at(b.formation).part("formation"), "spacing", 0), 0.7);
    b.formationKind("grid");  // its spacing has three numbers: another meaning, its default stands
    EXPECT_EQ(numberAt(b.scene, b.scene.at(b.formation).part("formation"), "spacing", 0, 1), 1.25);
}

TEST(History, UndoToTheStartAndRedoToTheEnd) {
    const Build b;
    History history(b.scene);
    std::vector<std::string> states{toJson(history.scene())};
    for (int k = 0; k < 12; ++k) {
        history.seal();
        history.apply(
            k % 3 == 0 ? addSwarm(history.scene()) : setNumber(history.scene(), addressOf(history.scene(), b.swarm, "scale"), 1 + k, 0),
            {});
        states.push_back(toJson(history.scene()));
    }
    for (std::size_t k = states.size() - 1; k-- > 0;) {
        history.undo({});
        EXPECT_EQ(toJson(history.scene()), states[k]);
    }
    EXPECT_FALSE(history.canUndo());
    for (std::size_t k = 1; k < states.size(); ++k) {
        history.redo({});
        EXPECT_EQ(toJson(history.scene()), states[k]);
    }
}

TEST(History, ADragIsOneStepToldFromStartToEnd) {
    const Build b;
    History history(b.scene);
    for (const double v : {1.1, 1.2, 1.3})
        history.apply(setNumber(history.scene(), addressOf(history.scene(), b.swarm, "scale"), v, 0), {});
    EXPECT_EQ(history.undoLabel(), "Swarm: Scale 1 → 1.3");
    history.undo({});
    EXPECT_FALSE(history.canUndo());
}
