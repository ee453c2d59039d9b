// Time in the real window: keys, curves, formulas, links, timing, recording, the loop, hanging, playing.
#include <gtest/gtest.h>

#include <cmath>
#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QToolButton>
#include <QTreeWidget>
#include <QWheelEvent>

#include "app/fields/formula_editor.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/picture/picture.h"
#include "app/scene/scene_list.h"
#include "app/time/curve_view.h"
#include "app/time/time_panel.h"
#include "app/time/time_rows.h"
#include "core/edit/key_edits.h"
#include "core/edit/timing_edits.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// A new swarm of boxes with one gesture that lifts them by a metre.
struct Timed : Hand {
    ObjectId gesture;

    Timed() {
        click("newSwarm");
        addGesture("rise");
        gesture = scene().all(ObjectType::gesture).front();
    }
    Address at(ObjectId object, const char* parameter, int component = -1) { return addressOf(scene(), object, parameter, component); }
    double number(ObjectId object, const char* parameter, double frame, int component = -1) {
        return *valueAtAddress(scene(), toText(scene(), at(object, parameter, component)), frame);
    }
    const Track& track(ObjectId object, const char* parameter, int component = -1) {
        return trackAt(scene(), at(object, parameter, component));
    }
    TimeRows* rows() { return find<TimeRows>("timeRows"); }
    void frame(double to) {
        window().document().setFrame(to);
        settle();
    }
    float height() {
        const auto r = window().evaluation().resultOf(window().document().swarm());
        return r->columns->matrix[7];
    }
    /// The middle of a diamond of a row.
    QPointF diamond(int row, double frame) { return {rows()->xOf(frame), rows()->rowRect(row).center().y()}; }
    /// The choice before a number: what moves it.
    void moveBy(const QString& row, const QString& way, int component = 0) {
        NumberField* number = field(row, component);
        ASSERT_NE(number, nullptr) << row.toStdString();
        answerMenu(way);
        QTest::mouseClick(number, Qt::LeftButton, {}, QPoint(5, 12));
        settle();
    }
    void chooseInList(const QString& name) {
        auto* list = find<QTreeWidget>("sceneList");
        const auto found = list->findItems(name, Qt::MatchExactly | Qt::MatchRecursive);
        ASSERT_FALSE(found.empty()) << name.toStdString();
        list->scrollToItem(found.front());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(found.front()).center());
        settle();
    }
};

}  // namespace

TEST(TimeWindow, GrowsFromThreeNumbersThatHangTogether) {
    Timed hand;
    hand.click("grow");
    ASSERT_TRUE(hand.track(hand.gesture, "strength").keyed());
    hand.typeNumber("timing-each", "12f");
    hand.typeNumber("timing-last", "1s");
    auto timing = *timingOf(hand.scene(), hand.gesture, 0);
    EXPECT_EQ(timing.each, 12);
    EXPECT_EQ(timing.lastStarts, 25);
    EXPECT_EQ(timing.done(), 37);
    hand.typeNumber("timing-done", "50");
    timing = *timingOf(hand.scene(), hand.gesture, 0);
    EXPECT_EQ(timing.each, 12);
    EXPECT_EQ(timing.lastStarts, 38);
    EXPECT_EQ(choiceOf(hand.scene().at(hand.gesture).part("when"), "by"), "number");
    hand.typeNumber("timing-done", "5");
    EXPECT_NE(hand.line().indexOf("can't be done before"), -1) << hand.line().toStdString();
    hand.choose("growthEase", "Straight");
    EXPECT_EQ(hand.track(hand.gesture, "strength").keys->front().ease, Ease::linear);
    const auto bar = hand.rows()->rows().front();
    EXPECT_EQ(bar.from, 0);
    EXPECT_EQ(bar.to, 50);
}

TEST(TimeWindow, KeysAreChosenByABandMovedStretchedCopiedAndMirrored) {
    Timed hand;
    hand.click("grow");  // 0 and 25
    auto* rows = hand.rows();
    ASSERT_EQ(rows->rows().size(), 2u) << "the gesture's bar and its strength";
    hand.drag(rows, QPointF(rows->xOf(30), rows->rowRect(1).top() + 2), QPointF(rows->xOf(-2) - rows->xOf(30), 16));
    EXPECT_EQ(rows->chosenKeys().size(), 2u);
    hand.drag(rows, hand.diamond(1, 0), QPointF(rows->xOf(10) - rows->xOf(0), 0));
    const auto frames = [&] {
        std::vector<double> out;
        for (const Key& key : *hand.track(hand.gesture, "strength").keys) out.push_back(key.frame);
        return out;
    };
    EXPECT_EQ(frames(), (std::vector<double>{10, 35}));
    hand.drag(rows, hand.diamond(1, 35), QPointF(rows->xOf(60) - rows->xOf(35), 0), Qt::LeftButton, Qt::AltModifier);
    EXPECT_EQ(frames(), (std::vector<double>{10, 60}));
    rows->setFocus();
    hand.key(Qt::Key_C, Qt::ControlModifier);
    hand.frame(70);
    rows->setFocus();
    hand.key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(frames(), (std::vector<double>{10, 60, 70, 120}));
    rows->setFocus();
    hand.key(Qt::Key_A, Qt::ControlModifier);
    Hand::answerMenu("Mirror");
    QContextMenuEvent menu(QContextMenuEvent::Mouse, hand.diamond(1, 60).toPoint(), rows->mapToGlobal(hand.diamond(1, 60).toPoint()));
    QApplication::sendEvent(rows, &menu);
    hand.settle();
    EXPECT_EQ(frames(), (std::vector<double>{10, 60, 70, 120}));
    EXPECT_EQ(hand.number(hand.gesture, "strength", 10), 100) << "it began with 0";
    EXPECT_EQ(rows->chosenKeys().size(), 4u);
    rows->setFocus();
    hand.key(Qt::Key_Delete);
    EXPECT_FALSE(hand.track(hand.gesture, "strength").keyed());
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(frames().size(), 4u);
}

TEST(TimeWindow, CurvesFollowTheChoiceAndShowAGesturesZonesWhereItHasNone) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(GSWARM_SOURCE "/demo/tidal-floor.gswarm"));
    hand.settle();
    const ObjectId swell = hand.scene().named(ObjectType::zone, "Swell");
    const auto choose = [&](const char* gesture) {
        const ObjectId id = hand.scene().named(ObjectType::gesture, gesture);
        hand.window().document().choose(id);
        hand.settle();
        return id;
    };
    choose("Murmur");
    hand.click("showCurves");
    auto* curves = hand.find<CurveView>("curveView");
    ASSERT_NE(curves, nullptr);
    EXPECT_TRUE(curves->allNumbers().empty());
    const ObjectId lift = choose("Lift");  // not keyed itself; its zone passes
    EXPECT_EQ(curves->allNumbers(), keyedNumbers(hand.scene(), swell));
    EXPECT_EQ(curves->allNumbers().size(), 2u);
    hand.window().document().edit([&](const Scene& s) { return toggleKey(s, addressOf(s, lift, "strength"), 0); });
    hand.settle();
    ASSERT_EQ(curves->allNumbers().size(), 1u);
    EXPECT_EQ(curves->allNumbers()[0].object, lift);
    choose("Murmur");
    EXPECT_TRUE(curves->allNumbers().empty());
}

TEST(TimeWindow, CurvesShowKeysAndFreeSlopes) {
    Timed hand;
    hand.click("grow");
    hand.click("showCurves");
    auto* curves = hand.find<CurveView>("curveView");
    ASSERT_NE(curves, nullptr);
    const Address strength = hand.at(hand.gesture, "strength");
    const auto key = [&](std::size_t k) { return (*hand.track(hand.gesture, "strength").keys)[k]; };
    const QPointF last = curves->placeOf(strength, key(1));
    const double middle = (curves->placeOf(strength, key(0)).y() - last.y()) / 2;
    hand.drag(curves, last, QPointF(hand.rows()->xOf(40) - hand.rows()->xOf(25), middle));
    EXPECT_EQ(key(1).frame, 40);
    EXPECT_NEAR(key(1).value, 50, 2);
    Hand::answerMenu("To the next key > Free");
    const QPoint first = curves->placeOf(strength, key(0)).toPoint();
    QContextMenuEvent menu(QContextMenuEvent::Mouse, first, curves->mapToGlobal(first));
    QApplication::sendEvent(curves, &menu);
    hand.settle();
    ASSERT_EQ(key(0).ease, Ease::free);
    const QPointF handle = curves->handleOf(strength, key(0), false);
    EXPECT_EQ(key(0).out, 0);
    hand.drag(curves, handle, QPointF(0, -20));
    EXPECT_GT(key(0).out, 0);
    EXPECT_NEAR(hand.number(hand.gesture, "strength", 0), 0, 1e-9);
    EXPECT_GT(hand.number(hand.gesture, "strength", 10), 50 * 0.25 * 0.25 * (3 - 0.5)) << "it leaves sooner than an eased key";
    // The wheel zooms the values to the pointer; a double click on their scale shows all again.
    const double apart = curves->placeOf(strength, key(0)).y() - curves->placeOf(strength, key(1)).y();
    const QPointF at = curves->placeOf(strength, key(1)) + QPointF(30, 0);
    QWheelEvent wheel(at, curves->mapToGlobal(at), {}, {0, 240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(curves, &wheel);
    const QPointF zoomed = curves->placeOf(strength, key(1));
    EXPECT_NEAR(zoomed.y(), at.y(), 0.5) << "what is under the pointer stays";
    EXPECT_NEAR(curves->placeOf(strength, key(0)).y() - zoomed.y(), apart * std::pow(1 / 0.9985, 240), 1);
    hand.drag(curves, zoomed + QPointF(60, 30), QPointF(0, -15));
    EXPECT_NEAR(curves->placeOf(strength, key(1)).y(), zoomed.y() - 15, 0.5);
    QTest::mouseDClick(curves, Qt::LeftButton, {}, QPoint(curves->placeOf(strength, key(0)).toPoint().x() - 30, 30));
    hand.settle();
    EXPECT_NEAR(curves->placeOf(strength, key(0)).y() - curves->placeOf(strength, key(1)).y(), apart, 1);
}

TEST(TimeWindow, AFormulaIsWrittenUnderItsNumberAndItsMistakeIsShown) {
    Timed hand;
    hand.moveBy("positionAmount", "Formula", 1);
    auto* editor = hand.window().findChild<QWidget*>("movedBy")->findChild<FormulaEditor*>();
    ASSERT_NE(editor, nullptr);
    auto* text = editor->findChild<QPlainTextEdit*>();
    text->setFocus();
    const auto write = [&](const QString& formula) {
        QTest::keyClick(text, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(text, formula);
        QTest::keyClick(text, Qt::Key_Escape);
        hand.settle();
    };
    write("2 * t + share");
    hand.frame(50);
    ASSERT_TRUE(hand.track(hand.gesture, "positionAmount", 1).formula);
    const auto r = hand.window().evaluation().resultOf(hand.window().document().swarm());
    const auto height = [&](int row) { return r->columns->matrix[12 * static_cast<std::size_t>(row) + 7]; };
    EXPECT_NEAR(height(r->count - 1) - height(0), 1, 1e-4) << "the share goes from 0 to 1";
    write("2 * qq");
    EXPECT_EQ(hand.track(hand.gesture, "positionAmount", 1).formula->text, "2 ") << "the last that could be read goes on";
    const auto labels = editor->findChildren<QLabel*>();
    EXPECT_TRUE(std::any_of(labels.begin(), labels.end(), [](QLabel* l) { return l->isVisible() && l->text().contains("qq"); }));
    hand.moveBy("positionAmount", "Fixed", 1);
    EXPECT_FALSE(hand.track(hand.gesture, "positionAmount", 1).moves());
}

TEST(TimeWindow, ALinkIsMadeByClickingTheOtherNumber) {
    Timed hand;
    hand.click("grow");
    hand.moveBy("positionAmount", "Link", 1);
    ASSERT_TRUE(hand.window().document().linking());
    hand.click(hand.field("strength"), QPoint(40, 12));
    const Track& made = hand.track(hand.gesture, "positionAmount", 1);
    ASSERT_TRUE(made.link);
    EXPECT_EQ(made.link->to, toText(hand.scene(), hand.at(hand.gesture, "strength")));
    auto* name = hand.find<QLabel>("linkName");
    ASSERT_NE(name, nullptr);
    EXPECT_NE(name->text().indexOf("strength"), -1);
    hand.typeNumber("link-to", "3");
    hand.typeNumber("link-to end", "1");
    EXPECT_NEAR(hand.number(hand.gesture, "positionAmount", 25, 1), 1, 1e-9) << "the ends are swapped";
    EXPECT_NEAR(hand.number(hand.gesture, "positionAmount", 0, 1), 3, 1e-9);
    // The other end shows it too, and its mark leads back.
    EXPECT_NE(hand.field("strength")->toolTip().indexOf("Other settings follow"), -1);
    EXPECT_EQ(hand.field("positionAmount", 1)->toolTip().indexOf("Other settings follow"), -1);
    hand.moveBy("strength", "Followed by");
    EXPECT_EQ(hand.window().document().chosen(), hand.gesture);
    // The other way would be a circle: it is refused with its chain.
    hand.moveBy("strength", "Link");
    hand.click(hand.field("positionAmount", 1), QPoint(40, 12));
    EXPECT_NE(hand.line().indexOf("circle of settings"), -1) << hand.line().toStdString();
    // A number that nothing follows any more says so no longer.
    hand.moveBy("positionAmount", "Fixed", 1);
    EXPECT_EQ(hand.field("strength")->toolTip().indexOf("Other settings follow"), -1);
}

TEST(TimeWindow, RecordingKeysWhatIsChanged) {
    Timed hand;
    hand.click("record");
    hand.frame(10);
    hand.typeNumber("strength", "40");
    hand.frame(30);
    hand.typeNumber("strength", "90");
    hand.click("record");
    EXPECT_EQ(hand.track(hand.gesture, "strength").keys->size(), 2u);
    EXPECT_NEAR(hand.number(hand.gesture, "strength", 20), 65, 1e-9);
}

TEST(TimeWindow, TheLoopRingTellsWhyAndMends) {
    Timed hand;
    hand.choose("kind-pattern", "Wave");
    hand.choose("pattern-motion", "Speed");
    hand.typeNumber("pattern-speed", "0.37");
    hand.click("loopRing");
    ASSERT_TRUE(QTest::qWaitFor([&] { return hand.window().evaluation().loop() != nullptr; }, 5000));
    EXPECT_FALSE(hand.window().evaluation().loop()->closed);
    hand.settle();
    auto* mend = hand.window().findChild<QPushButton*>("loopMend");
    ASSERT_NE(mend, nullptr);
    QTest::mouseClick(mend, Qt::LeftButton);
    EXPECT_EQ(choiceOf(hand.scene().at(hand.gesture).part("pattern"), "motion"), "laps");
    ASSERT_TRUE(QTest::qWaitFor([&] { return hand.window().evaluation().loop() && hand.window().evaluation().loop()->closed; }, 5000));
    if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
    hand.settle();
}

TEST(TimeWindow, AZoneHangsFromAMountAndKeepsItsPlace) {
    Timed hand;
    hand.window().document().edit(addMount);
    const ObjectId mount = hand.scene().all(ObjectType::mount).front();
    hand.window().document().edit([&](const Scene& s) { return addZone(s, hand.gesture, *findKind(Family::zone, "ball")); });
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    hand.chooseInList("Mount");
    hand.typeNumber("position", "2", 0);
    hand.typeNumber("rotation", "90", 1);
    hand.chooseInList("Ball zone");
    const glm::vec3 before = poseAt(hand.scene(), zone, 0, hand.window().document().store()).position;
    hand.choose("hang-by", "From an object");
    hand.click(hand.find<QWidget>("hang-from")->findChild<QPushButton*>(), QPoint(20, 10));
    hand.chooseInList("Mount");
    EXPECT_EQ(hand.window().document().chosen(), zone) << "picking never changes what is shown";
    const glm::vec3 after = poseAt(hand.scene(), zone, 0, hand.window().document().store()).position;
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(before[c], after[c], 1e-4);
    hand.window().document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, mount, "position", 1), 4, 0); });
    EXPECT_NEAR(poseAt(hand.scene(), zone, 0, hand.window().document().store()).position.y, before.y + 4, 1e-4);
}

TEST(TimeWindow, FollowThroughIsTheSameHoweverAFrameIsReached) {
    Timed hand;
    hand.click("grow");
    hand.choose("follow-driven", "Swings like a spring");
    hand.frame(30);
    const float jumped = hand.height();
    hand.frame(0);
    for (int frame = 1; frame <= 30; ++frame) hand.frame(frame);
    EXPECT_EQ(hand.height(), jumped);
    hand.frame(90);
    hand.frame(30);
    EXPECT_EQ(hand.height(), jumped);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            const auto& ready = hand.window().evaluation().readyFrames();
            return !ready.empty() && std::all_of(ready.begin(), ready.end(), [](bool known) { return known; });
        },
        8000))
        << "the frames are made in the background";
}

TEST(TimeWindow, PlaysToTheEndOrThereAndBack) {
    Timed hand;
    hand.window().document().edit([](const Scene& s) { return setNumber(s, addressOf(s, s.project().id, "lastFrame"), 5, 0); });
    hand.window().document().edit([](const Scene& s) { return setNumber(s, addressOf(s, s.project().id, "firstFrame"), -5, 0); });
    hand.click("playMode");  // to the end
    hand.frame(-5);
    hand.key(Qt::Key_Space);
    ASSERT_TRUE(QTest::qWaitFor([&] { return hand.window().document().frame() == 5; }, 3000));
    QTest::qWait(200);
    EXPECT_EQ(hand.window().document().frame(), 5) << "it stays at the end";
    hand.click("playMode");  // there and back
    hand.frame(4);
    bool back = false;
    double before = 4;
    hand.window().document().setFrame(4);
    QTest::keyClick(&hand.window(), Qt::Key_Space);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            const double now = hand.window().document().frame();
            back = back || (now < before && now > -5);
            before = now;
            return back;
        },
        3000));
    QTest::keyClick(&hand.window(), Qt::Key_Space);
    hand.settle();
}

TEST(TimeWindow, AnotherRateAsksWhatKeysKeep) {
    Timed hand;
    hand.click("grow");
    hand.window().document().choose(hand.scene().project().id);
    hand.settle();
    auto* line = hand.find<QWidget>("rate")->findChild<QLineEdit*>();
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, "50");
    Hand::answerMenu("Keys keep their seconds");
    QTest::keyClick(line, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(hand.track(hand.gesture, "strength").keys->back().frame, 50);
    EXPECT_EQ(momentAt(hand.scene(), 0).rate, 50);
}
