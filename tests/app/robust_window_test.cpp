// The window keeps its word: nothing that is shown is asked for what is gone, what nobody foresaw is caught, and what can be
// made opens again.
#include <gtest/gtest.h>

#include <fstream>
#include <QApplication>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <thread>

#include "app/document/application.h"
#include "app/fields/number_field.h"
#include "app/settings/settings.h"
#include "app/tour/random_use.h"
#include "core/base/error.h"
#include "core/edit/gesture_starts.h"
#include "core/edit/rail_edits.h"
#include "core/file/project_file.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

ObjectId firstOf(const Scene& scene, ObjectType type) { return scene.all(type).front(); }

}  // namespace

TEST(RobustWindow, KindsThatChangeUnderOpenPanelsAndUndoLeaveNoRowBehind) {
    Hand hand;
    Document& document = hand.window().document();
    hand.click("newSwarm");
    hand.addGesture("wave");
    const ObjectId gesture = firstOf(hand.scene(), ObjectType::gesture), swarm = document.swarm();
    const ObjectId zone = document.edit([&](const Scene& s) { return addZone(s, gesture, *kindsOf(Family::zone).front()); });
    const ObjectId formation = hand.scene().at(swarm).list("formations").front();
    const ObjectId shape = firstOf(hand.scene(), ObjectType::shape);
    const int faults = Application::instance()->faults();
    const std::string first = toJson(document.scene());
    int edits = 0;
    const auto through = [&](ObjectId object, const char* slot, Family family) {
        for (const Kind* kind : kindsOf(family)) {
            document.choose(object);
            // Waits for a click on a thing, so that rows hear of the session while another kind comes.
            document.startPick({ObjectType::shape, ObjectType::swarm, ObjectType::zone}, [](ObjectId) {});
            document.edit([&](const Scene& s) { return setKind(s, object, slot, *kind); });
            document.cancelPick();
            document.session().chooseInstances(swarm, {1, 2});
            document.session().chooseInstances(swarm, {});
            QApplication::processEvents();
            document.undo();
            document.session().chooseInstances(swarm, {3});
            document.redo();
            document.setFrame(edits % 40);
            ++edits;
        }
    };
    through(gesture, "change", Family::gesture);
    through(gesture, "pattern", Family::pattern);
    through(zone, "form", Family::zone);
    through(formation, "formation", Family::formation);
    through(shape, "maker", Family::shape);
    hand.settle();
    EXPECT_EQ(Application::instance()->faults(), faults);
    EXPECT_GT(edits, 60);
    while (document.history().canUndo()) document.undo();
    while (document.history().canRedo()) document.redo();
    while (toJson(document.scene()) != first && document.history().canUndo()) document.undo();
    EXPECT_EQ(toJson(document.scene()), first);
}

TEST(RobustWindow, DeletingWhatIsShownPinnedHandledPickedSoloedAndLinked) {
    Hand hand;
    Document& document = hand.window().document();
    const int faults = Application::instance()->faults();
    for (int round = 0; round < 6; ++round) {
        document.newProject();
        hand.settle();
        hand.click("newSwarm");
        hand.addGesture("wave");
        const ObjectId gesture = firstOf(hand.scene(), ObjectType::gesture), swarm = document.swarm();
        const ObjectId zone = document.edit([&](const Scene& s) { return addZone(s, gesture, *kindsOf(Family::zone).front()); });
        document.session().pin(zone, true);
        document.choose(gesture);
        document.setHandled(zone);
        document.setSolo(hand.scene().at(swarm).list("rail").front());
        document.vary(addressOf(hand.scene(), zone, "radius"));
        document.startLink(addressOf(hand.scene(), zone, "radius"));
        ObjectId picked;
        document.startPick({ObjectType::zone}, [&](ObjectId id) { picked = id; });
        const ObjectId victims[] = {zone,
                                    gesture,
                                    swarm,
                                    hand.scene().at(swarm).list("rail").front(),
                                    hand.scene().at(swarm).list("stock").front(),
                                    firstOf(hand.scene(), ObjectType::shape)};
        const Scene before = hand.scene();
        document.edit([&](const Scene& s) { return remove(s, victims[round]); });
        EXPECT_FALSE(hand.scene().find(victims[round])) << round;
        for (const ObjectId shown : {document.chosen(), document.handled(), document.solo(), document.swarm()})
            EXPECT_TRUE(!shown || hand.scene().find(shown)) << round << ": something gone is still shown";
        for (const ObjectId pinned : document.session().pinned()) EXPECT_TRUE(hand.scene().find(pinned)) << round;
        document.click(zone);
        EXPECT_EQ(picked == zone, hand.scene().find(zone) != nullptr) << round << ": only what is there is picked";
        document.linkTo(addressOf(hand.scene(), hand.scene().project().id, "lastFrame"));
        hand.settle();
        const Scene after = hand.scene();
        while (!(hand.scene() == before) && document.history().canUndo()) document.undo();
        EXPECT_TRUE(hand.scene() == before) << round << ": undo brings it back";
        hand.settle();
        while (!(hand.scene() == after) && document.history().canRedo()) document.redo();
        EXPECT_TRUE(hand.scene() == after) << round << ": redo takes it away again";
        hand.settle();
    }
    EXPECT_EQ(Application::instance()->faults(), faults);
}

TEST(RobustWindow, WhatNobodyForesawIsCaughtToldAndWrittenDown) {
    Hand hand;
    hand.click("newSwarm");
    const std::string before = toJson(hand.scene());
    const int faults = Application::instance()->faults();
    const auto log = Autosave::folder() / "faults.log";
    std::filesystem::remove(log);
    QTimer::singleShot(0, [] { throw std::runtime_error("as if a panel had asked for what is gone"); });
    ASSERT_TRUE(hand.eventually([&] { return hand.line().contains("nobody foresaw"); }));
    std::thread worker([] { guarded("a test's worker", [] { throw std::logic_error("as if a worker had"); }); });
    worker.join();
    ASSERT_TRUE(hand.eventually([&] { return Application::instance()->faults() == faults + 2; }));
    std::ifstream text(log);
    const std::string written((std::istreambuf_iterator<char>(text)), {});
    EXPECT_NE(written.find("asked for what is gone"), std::string::npos) << written;
    EXPECT_NE(written.find("a test's worker"), std::string::npos) << written;
    EXPECT_EQ(toJson(hand.scene()), before);
    // The work goes on.
    hand.addGesture("wave");
    EXPECT_EQ(hand.scene().all(ObjectType::gesture).size(), 1u);
    EXPECT_EQ(Application::instance()->faults(), faults + 2);
}

TEST(RobustWindow, TheSixtyFifthCardIsRefusedInTheLine) {
    Hand hand;
    hand.click("newSwarm");
    Document& document = hand.window().document();
    for (int k = 0; k < mostCards; ++k)
        document.edit([&](const Scene& s) { return addGesture(s, document.swarm(), gestureStarts().front().make()); });
    hand.settle();
    hand.addGesture("wave");
    EXPECT_TRUE(hand.line().contains("64 cards in its rail")) << hand.line().toStdString();
    EXPECT_EQ(hand.scene().at(document.swarm()).list("rail").size(), static_cast<std::size_t>(mostCards));
}

TEST(RobustWindow, MoreThanCanBeMadeIsToldSavedAndOpened) {
    QTemporaryDir folder;
    Hand hand;
    hand.click("newSwarm");
    Document& document = hand.window().document();
    const ObjectId formation = hand.scene().at(document.swarm()).list("formations").front();
    document.choose(formation);
    hand.settle();
    hand.typeNumber("count", "100000", 0);
    hand.typeNumber("count", "5000", 2);
    ASSERT_TRUE(hand.eventually([&] { return hand.line().contains("500 000 000"); })) << hand.line().toStdString();
    document.edit([](const Scene& s) { return addMount(s); });
    const auto file = std::filesystem::path(folder.filePath("large.gswarm").toStdString());
    ASSERT_TRUE(document.save(file));
    const Scene saved = hand.scene();
    EXPECT_TRUE(document.open(file)) << hand.line().toStdString();
    EXPECT_TRUE(hand.scene() == saved);
}

TEST(RobustWindow, AProjectWhoseMeshHasGoneOpensAndTellsSo) {
    QTemporaryDir folder;
    Hand hand;
    hand.click("newSwarm");
    Document& document = hand.window().document();
    const ObjectId shape = firstOf(hand.scene(), ObjectType::shape);
    document.edit([&](const Scene& s) { return setKind(s, shape, "maker", *findKind(Family::shape, "meshFile")); });
    document.edit([&](const Scene& s) { return setValue(s, addressOf(s, shape, "file"), std::string("gone.obj")); });
    const auto file = std::filesystem::path(folder.filePath("gone.gswarm").toStdString());
    ASSERT_TRUE(document.save(file));
    EXPECT_TRUE(document.open(file));
    EXPECT_TRUE(hand.eventually([&] { return hand.line().contains("gone.obj"); })) << hand.line().toStdString();
}

TEST(RobustWindow, ARestlessHandLeavesItAliveAndItsFileOpens) {
    for (const char* demo : {"kelp", "coral-bell"}) {
        QTemporaryDir folder;
        Hand hand;
        const QString copy = folder.filePath("copy.gswarm");
        ASSERT_TRUE(QFile::copy(QString(GSWARM_SOURCE "/demo/") + demo + ".gswarm", copy));
        ASSERT_TRUE(hand.window().openFile(copy));
        const int faults = Application::instance()->faults();
        RandomUse use(hand.window(), 17, copy);
        bool over = false;
        QObject::connect(&use, &RandomUse::finished, [&] { over = true; });
        use.start(400);
        EXPECT_TRUE(QTest::qWaitFor([&] { return over; }, 240'000)) << demo;
        EXPECT_EQ(use.problems().join("; ").toStdString(), "") << demo;
        EXPECT_GE(use.saves(), 2);
        EXPECT_EQ(Application::instance()->faults(), faults) << demo;
    }
}

TEST(RobustWindow, AMenuOutlivesTheRowThatAskedIt) {
    Hand hand;
    hand.click("newSwarm");
    Document& document = hand.window().document();
    const ObjectId formation = hand.scene().at(document.swarm()).list("formations").front();
    document.choose(formation);
    hand.settle();
    const int faults = Application::instance()->faults();
    // While the menu of a number is open, another kind comes into the slot, and the row that asked is made anew.
    QTimer::singleShot(300, [&] {
        ASSERT_TRUE(QApplication::activePopupWidget());
        document.edit([&](const Scene& s) { return setKind(s, formation, "formation", *findKind(Family::formation, "ring")); });
        QTimer::singleShot(300, [] { QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Down); });
        QTimer::singleShot(500, [] { QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return); });
    });
    auto* field = hand.field("spacing");
    ASSERT_NE(field, nullptr);
    emit field->customContextMenuRequested(QPoint(2, 2));
    hand.settle();
    EXPECT_EQ(hand.scene().at(formation).part("formation").kind->id, "ring");
    EXPECT_EQ(Application::instance()->faults(), faults);
}
