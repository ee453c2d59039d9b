// Forces and baked frames in the real window: added, placed, seen, and used.
#include <gtest/gtest.h>

#include <QTemporaryDir>

#include "app/document/evaluation.h"
#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/file/project_file.h"
#include "core/scene/address.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// Along X, of all instances of the shown swarm.
double middle(Hand& hand, double frame) {
    hand.window().document().setFrame(frame);
    hand.settle();
    const auto result = hand.result();
    double sum = 0;
    for (int i = 0; i < result->count; ++i) sum += result->columns->matrix[12 * static_cast<std::size_t>(i) + 3];
    return sum / result->count;
}

}  // namespace

TEST(BodiesWindow, AWindFromTheListCarriesWhatFallsWhereItsZoneIs) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("fall");
    const double still = middle(hand, 20);
    Hand::answerMenu("Wind", 5);
    hand.click("addThing");
    hand.click("add-force");
    const ObjectId force = hand.scene().all(ObjectType::force).back();
    ASSERT_TRUE(force);
    EXPECT_EQ(hand.window().document().chosen(), force);
    hand.typeNumber("speed", "6");
    const double carried = middle(hand, 20);
    EXPECT_GT(carried, still + 0.3);
    ASSERT_EQ(hand.window().evaluation().latest()->forces.size(), 1u);
    EXPECT_GT(hand.window().evaluation().latest()->forces[0].lines.size(), 20u) << "its lines are drawn";
    // The other way, turned by its number.
    hand.typeNumber("rotation", "180", 1);
    EXPECT_LT(middle(hand, 20), still - 0.3);
    hand.typeNumber("rotation", "0", 1);
    // Only in a zone that lies far away: nowhere.
    hand.click("addZone-ball");
    const ObjectId zone = hand.scene().all(ObjectType::zone).back();
    EXPECT_EQ(hand.scene().at(force).list("weave").size(), 1u);
    hand.window().document().choose(zone);
    hand.settle();
    hand.typeNumber("position", "500");
    EXPECT_NEAR(middle(hand, 20), still, 1e-4);
    for (int k = 0; k < 12 && hand.scene().find(force); ++k) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(hand.scene().find(force)) << "undone step by step";
    EXPECT_NEAR(middle(hand, 20), still, 1e-6);
}

TEST(BodiesWindow, ChosenInstancesShowAsWhatTheyMeetOthers) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("fall");
    Document& document = hand.window().document();
    const auto colliders = [&] { return hand.window().evaluation().latest()->colliders; };
    EXPECT_TRUE(colliders().empty());
    document.session().chooseInstances(document.swarm(), idsOfRows(hand.result()->home, {0, 5}));
    hand.settle();
    ASSERT_EQ(colliders().size(), 1u);
    EXPECT_EQ(colliders()[0].size(), 6u) << "two faces and four edges of a box";
    hand.choose("collider", "A ball");
    EXPECT_EQ(colliders()[0].size(), 3u) << "three circles";
    document.session().chooseInstances(document.swarm(), {});
    hand.settle();
    EXPECT_TRUE(colliders().empty());
}

TEST(BodiesWindow, BakedFramesLieAtHandAndADamagedFileIsTold) {
    const QTemporaryDir folder;
    const auto file = [&](const char* ending) { return std::filesystem::path(folder.filePath("falling").toStdString() + ending); };
    {
        Hand hand;
        hand.click("newSwarm");
        hand.addGesture("fall");
        saveProject(hand.scene(), file(".gswarm"));
        Evaluator evaluator(2);
        Progress progress;
        ExportFrames frames{evaluator, hand.scene(), {{}, file("").parent_path()}, 0, framesOf(hand.scene())};
        writeExport(settingsFor(bakeExporter, hand.scene()), frames, file(".bake"), progress);
    }
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(QString::fromStdString(file(".gswarm").string())));
    hand.settle();
    const Checkpoints& kept = hand.window().evaluation().evaluator().store().checkpoints();
    const auto all = [&] {
        const std::vector<bool>& ready = hand.window().evaluation().readyFrames();
        return !ready.empty() && std::find(ready.begin(), ready.end(), false) == ready.end();
    };
    EXPECT_TRUE(hand.eventually(all));
    const double baked = middle(hand, 100);
    EXPECT_EQ(kept.bytes(), 0u) << "nothing was played";
    writeFileAtomically(file(".bake"), "not that");
    hand.window().document().setFrame(90);
    EXPECT_TRUE(hand.eventually([&] { return hand.line().contains("falling.bake"); })) << hand.line().toStdString();
    EXPECT_EQ(middle(hand, 100), baked) << "made anew, to the bit";
}
