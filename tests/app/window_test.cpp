// The real window under a display, driven by mouse and keyboard; what is checked are numbers.
#include <gtest/gtest.h>

#include <QComboBox>
#include <QDragEnterEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QProcess>
#include <QPushButton>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>
#include <set>

#include "app/export/export_kinds.h"
#include "app/export/export_queue.h"
#include "app/fields/drop_target.h"
#include "app/fields/number_field.h"
#include "app/picture/picture.h"
#include "app/rail/rail_card.h"
#include "app/scene/scene_list.h"
#include "app/time/time_rows.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/resolve/resolve.h"
#include "core/resolve/typed_number.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

double numberOf(Hand& hand, ObjectId object, const char* parameter, int component = 0, double frame = 0) {
    return valueAt(
        hand.scene(),
        std::get<Numbers>(valueOf(hand.scene(), addressOf(hand.scene(), object, parameter)))[static_cast<std::size_t>(component)], frame);
}

/// Instances of the latest result that stand above y.
int above(Hand& hand, float y) {
    int count = 0;
    const auto r = hand.result();
    for (int i = 0; i < r->count; ++i) count += r->columns->matrix[12 * static_cast<std::size_t>(i) + 7] > y;
    return count;
}

}  // namespace

TEST(Window, BuildsASwarmFromAnEmptyProjectSavesReopensAndUndoesToTheStart) {
    Hand hand;
    QTemporaryDir folder;
    const std::string empty = toJson(hand.scene());
    EXPECT_TRUE(hand.find<QWidget>("greeting"));
    hand.click("newSwarm");
    ASSERT_EQ(hand.result()->count, 100);
    // Formation: 400 on a dome.
    hand.click(hand.card("Formation"), QPoint(40, 30));
    hand.pickFormation("goldenSpiral");
    EXPECT_EQ(hand.result()->count, 100);  // the count stays
    hand.typeNumber("count", "400");
    EXPECT_EQ(hand.result()->count, 400);
    hand.choose("onto", "Dome");
    hand.typeNumber("radius", "2+2");
    const ObjectId formation = hand.window().document().chosen();
    EXPECT_EQ(numberOf(hand, formation, "radius"), 4);
    // A gesture by mouse, where a new ball zone is.
    hand.addGesture("rise");
    EXPECT_EQ(hand.window().document().chosen().type(), ObjectType::gesture);
    // The topmost home stands at 4 m, lifted by 1 m; the middle of its box is half a metre higher.
    EXPECT_GT(above(hand, 5.4f), 0);
    EXPECT_EQ(above(hand, 5.51f), 0);
    hand.typeNumber("positionAmount", "50cm", 1);
    EXPECT_GT(above(hand, 4.9f), 0);
    EXPECT_EQ(above(hand, 5.01f), 0);
    hand.click("addZone-ball");
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    hand.typeNumber("radius", "6");
    EXPECT_EQ(numberOf(hand, zone, "radius"), 6);
    const Census census = hand.result()->cards[0];
    EXPECT_EQ(census.touched, 400);
    // Save, reopen, the same bytes; then undo to the very start.
    const QString path = folder.filePath("dome.gswarm");
    ASSERT_TRUE(hand.window().document().save(path.toStdString()));
    const std::string saved = toJson(hand.scene());
    {
        Hand other;
        ASSERT_TRUE(other.window().openFile(path));
        other.settle();
        EXPECT_EQ(toJson(other.scene()), saved);
        EXPECT_EQ(other.result()->columns->matrix, hand.result()->columns->matrix);
    }
    for (int k = 0; k < 40 && hand.window().document().history().canUndo(); ++k) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(toJson(hand.scene()), empty);
    EXPECT_TRUE(hand.find<QWidget>("greeting"));
    for (int k = 0; k < 40 && hand.window().document().history().canRedo(); ++k)
        hand.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(toJson(hand.scene()), saved);
}

TEST(Window, AZoneIsMovedAndSizedByItsHandles) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.window().document().choose(hand.scene().named(ObjectType::zone, "Swell"));
    hand.window().document().setFrame(75);
    hand.settle();
    const ObjectId zone = hand.window().document().chosen();
    Picture& picture = hand.window().picture();
    const double before = numberOf(hand, zone, "position", 1);
    const auto handle = picture.handlePlace("y");
    ASSERT_TRUE(handle);
    hand.drag(&picture, *handle, QPointF(0, -60));
    const double perPixel = picture.view().metresPerPixel(
        zoneStateAt(hand.scene(), hand.scene().at(zone), 75, hand.window().document().store()).position, picture.size());
    EXPECT_NEAR(numberOf(hand, zone, "position", 1) - before, 60 * perPixel, 0.35 * 60 * perPixel);
    hand.key(Qt::Key_3);
    const double radius = numberOf(hand, zone, "radius");
    const auto size = picture.handlePlace("radius");
    ASSERT_TRUE(size);
    const auto middle = picture.view().project(
        zoneStateAt(hand.scene(), hand.scene().at(zone), 75, hand.window().document().store()).position, picture.size());
    hand.drag(&picture, *size, (*size - *middle) * 0.25);
    EXPECT_NEAR(numberOf(hand, zone, "radius"), radius * 1.25, radius * 0.12);
    // One drag, one step.
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(numberOf(hand, zone, "radius"), radius);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(numberOf(hand, zone, "position", 1), before);
}

TEST(Window, PickingAZoneLeavesTheSettingsWhereTheyAre) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    const ObjectId murmur = hand.scene().named(ObjectType::gesture, "Murmur");
    hand.window().document().choose(murmur);
    hand.settle();
    auto* pick = hand.find<QToolButton>("");
    for (auto* button : hand.window().findChildren<QToolButton*>())
        if (button->isVisible() && button->accessibleName() == "Choose a zone") pick = button;
    hand.click(pick, pick->rect().center());
    ASSERT_TRUE(hand.window().document().picking());
    auto* list = hand.find<SceneList>("sceneList");
    auto* item = list->itemOf(hand.scene().named(ObjectType::zone, "Swell"));
    hand.click(list->viewport(), list->visualItemRect(item).center());
    EXPECT_FALSE(hand.window().document().picking());
    EXPECT_EQ(hand.window().document().chosen(), murmur);
    EXPECT_EQ(hand.find<QLineEdit>("objectName")->text(), "Murmur");
    EXPECT_EQ(hand.scene().at(murmur).list("weave").size(), 1u);
}

TEST(Window, ThingsAreDraggedOutOfTheListOntoSlotsThatTakeThem) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    const ObjectId murmur = hand.scene().named(ObjectType::gesture, "Murmur"), swell = hand.scene().named(ObjectType::zone, "Swell"),
                   tile = hand.scene().named(ObjectType::shape, "Tile");
    hand.window().document().choose(murmur);
    hand.settle();
    // Pressing in the list moves no choice: what is shown stays, so that there is something to drop on.
    auto* list = hand.find<SceneList>("sceneList");
    const QPoint row = list->visualItemRect(list->itemOf(swell)).center();
    QTest::mousePress(list->viewport(), Qt::LeftButton, {}, row);
    EXPECT_EQ(hand.window().document().chosen(), murmur);
    QTest::mouseRelease(list->viewport(), Qt::LeftButton, {}, row);
    EXPECT_EQ(hand.window().document().chosen(), swell);
    hand.window().document().choose(murmur);
    hand.settle();

    const auto drop = [&](QWidget* target, ObjectId object) { return hand.drop({object}, target, {target->width() / 2.0, 8}); };
    auto weave = [&] { return hand.scene().at(murmur).list("weave").size(); };
    EXPECT_FALSE(drop(hand.find<QWidget>("section-Where"), tile));
    EXPECT_TRUE(drop(hand.find<QWidget>("section-Where"), swell));
    EXPECT_EQ(weave(), 1u);
    EXPECT_FALSE(drop(hand.card("Murmur"), murmur));
    EXPECT_TRUE(drop(hand.card("Murmur"), swell));
    EXPECT_EQ(weave(), 2u);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(weave(), 1u);

    const ObjectId swarm = hand.window().document().swarm();
    const Edit ball = addShape(hand.scene(), *findKind(Family::shape, "ball"));
    hand.window().document().edit([&](const Scene&) { return ball; });
    hand.window().document().choose(swarm);
    hand.settle();
    EXPECT_TRUE(drop(hand.find<QWidget>("section-Stock"), ball.made));
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 2u);
}

TEST(Window, WhyGoesToAFrameAtWhichAPassingZoneActs) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    auto* lift = static_cast<RailCard*>(hand.card("Lift"));
    // It is merely not at work yet: quiet, and it says when.
    EXPECT_TRUE(hand.eventually([&] { return lift->state().count.startsWith("from "); })) << lift->state().count.toStdString();
    EXPECT_TRUE(lift->state().button.isEmpty());
    EXPECT_FALSE(lift->state().trouble);
    const Scene before = hand.scene();
    Hand::answerMenu("Go to frame", 60);
    QTest::keyClick(lift, Qt::Key_Question);
    hand.settle();
    EXPECT_GT(hand.window().document().frame(), 0);
    EXPECT_GT(hand.result()->cards[1].touched, 100);
    EXPECT_TRUE(hand.scene() == before);
}

TEST(Window, CardsAreSwitchedReorderedAndAnswerWhy) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.window().document().setFrame(75);
    hand.settle();
    auto* lift = static_cast<RailCard*>(hand.card("Lift"));
    ASSERT_NE(lift, nullptr);
    EXPECT_TRUE(lift->state().button.isEmpty());
    EXPECT_TRUE(lift->state().count.startsWith("on "));
    EXPECT_GT(hand.result()->cards[1].touched, 100);
    hand.click(lift, QPoint(lift->width() - 18, 13));
    EXPECT_EQ(hand.result()->cards[1].touched, 0);
    lift = static_cast<RailCard*>(hand.card("Lift"));
    EXPECT_EQ(lift->state().count, "off");
    EXPECT_TRUE(lift->state().button.isEmpty()) << "what a person switched off is no mistake";
    Hand::answerMenu("Switch it on");
    QTest::keyClick(lift, Qt::Key_Question);
    hand.settle();
    EXPECT_GT(hand.result()->cards[1].touched, 100);
    // Drag Gild before Murmur.
    QWidget* gild = hand.card("Gild");
    QWidget* murmur = hand.card("Murmur");
    const int gone = murmur->mapToGlobal(QPoint(4, 0)).x() - gild->mapToGlobal(QPoint(60, 0)).x();
    hand.drag(gild, QPointF(60, 30), QPointF(gone, 0));
    const auto rail = hand.scene().at(hand.window().document().swarm()).list("rail");
    EXPECT_EQ(hand.scene().at(referenceOf(hand.scene().at(rail[0]).part("entry"), "gesture")).name, "Gild");
    EXPECT_EQ(hand.window().document().history().undoLabel(), "Floor: move Gild");
}

TEST(Window, NumbersAreDraggedTypedSteppedAndKeyed) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen();
    NumberField* strength = hand.field("strength");
    hand.drag(strength, QPointF(60, 12), QPointF(-100, 0));
    EXPECT_NEAR(numberOf(hand, gesture, "strength"), 50, 2);
    strength = hand.field("strength");
    strength->setFocus();
    hand.key(Qt::Key_Up);
    EXPECT_NEAR(numberOf(hand, gesture, "strength"), 51, 2);
    hand.typeNumber("strength", "0");
    hand.field("strength")->setFocus();
    hand.key(Qt::Key_K);
    hand.window().document().setFrame(20);
    hand.typeNumber("strength", "100");
    EXPECT_EQ(numberOf(hand, gesture, "strength", 0, 0), 0);
    EXPECT_EQ(numberOf(hand, gesture, "strength", 0, 10), 50);
    EXPECT_EQ(numberOf(hand, gesture, "strength", 0, 20), 100);
    hand.window().document().setFrame(10);
    hand.settle();
    EXPECT_NEAR(hand.result()->columns->matrix[7], 0.5f + 0.5f, 1e-5f);  // half a metre up, and the middle of a box that stands on its base
    // The key is dragged ten frames later in the time panel.
    auto* rows = hand.find<TimeRows>("timeRows");
    hand.drag(rows, QPointF(rows->xOf(20), 24 + 11), QPointF(rows->xOf(30) - rows->xOf(20), 0));
    EXPECT_DOUBLE_EQ(numberOf(hand, gesture, "strength", 0, 15), 50);
    EXPECT_EQ(numberOf(hand, gesture, "strength", 0, 30), 100);
    hand.typeNumber("strength", "many");
    EXPECT_TRUE(hand.line().contains("is not a number; Strength stays")) << hand.line().toStdString();
}

TEST(Window, ScrubbingAndPlayingMoveTheFrame) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    auto* rows = hand.find<TimeRows>("timeRows");
    hand.drag(rows, QPointF(rows->xOf(10), 8), QPointF(rows->xOf(90) - rows->xOf(10), 0));
    EXPECT_EQ(hand.window().document().frame(), 90);
    EXPECT_EQ(hand.window().evaluation().latest()->frame, 90);
    hand.click("play");
    QTest::qWait(600);
    hand.window().play().stop();
    EXPECT_GE(hand.window().document().frame(), 100);
    EXPECT_LE(hand.window().document().frame(), 130);
    hand.key(Qt::Key_Home);
    EXPECT_EQ(hand.window().document().frame(), 0);
    hand.key(Qt::Key_Comma);
    EXPECT_EQ(hand.window().document().frame(), 149);
}

TEST(Window, TheViewTurnsMovesAndZoomsToThePointer) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    Picture& picture = hand.window().picture();
    const ViewCamera before = picture.view();
    hand.drag(&picture, QPointF(300, 200), QPointF(50, 0), Qt::RightButton);
    EXPECT_NEAR(picture.view().around, before.around - 0.4f, 1e-3f);
    EXPECT_EQ(picture.view().distance, before.distance);
    const glm::vec3 target = picture.view().target;
    hand.drag(&picture, QPointF(300, 200), QPointF(0, 40), Qt::MiddleButton);
    EXPECT_GT(picture.view().target.y, target.y);
    QWheelEvent wheel(QPointF(100, 100), picture.mapToGlobal(QPointF(100, 100)), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&picture, &wheel);
    hand.settle();
    EXPECT_LT(picture.view().distance, before.distance);
}

TEST(Window, WeightsAreComputedForTheChosenGesture) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.window().document().setFrame(75);
    hand.window().document().choose(hand.scene().named(ObjectType::gesture, "Gild"));
    hand.settle();
    hand.click("view-weights");
    const auto latest = hand.window().evaluation().latest();
    ASSERT_EQ(latest->weights.size(), 1951u);
    int touched = 0;
    for (const float w : latest->weights) touched += w != 0;
    EXPECT_EQ(touched, hand.result()->cards[3].touched);
    hand.click("view-weights");
}

TEST(Window, TooManyInstancesAreRefusedInPlaceAndThePictureStays) {
    Hand hand;
    hand.click("newSwarm");
    hand.click(hand.card("Formation"), QPoint(40, 30));
    hand.typeNumber("count", "100000", 0);
    hand.typeNumber("count", "100000", 2);
    EXPECT_TRUE(hand.line().contains("10 000 000 000")) << hand.line().toStdString();
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.result()->count, 100);
}

TEST(Window, ExportsFromThePanelAndCancels) {
    Hand hand;
    QTemporaryDir folder;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.click("viewExport");
    const ExportQueue& queue = *hand.window().findChild<ExportQueue*>();
    const auto exportTo = [&](const QString& format, const QString& file) {
        hand.find<ExportKinds>("exportKinds")->take(*findExporter(format.toStdString()));
        auto* path = hand.find<QLineEdit>("exportPath");
        path->setText(folder.filePath(file));
        hand.click("exportStart");
        QElapsedTimer clock;
        clock.start();
        while (queue.running() && clock.elapsed() < 60000) QTest::qWait(20);
    };
    exportTo("gltf", "a.glb");
    // The tool's table names no units.
    hand.find<ExportKinds>("exportKinds")->take(csvExporter);
    hand.click("exportUnits");
    exportTo("csv", "a.csv");
    hand.find<ExportKinds>("exportKinds")->take(stillExporter);
    const auto size = [&](const char* width, const char* height, const char* samples) {
        for (const auto& [name, text] : {std::pair{"exportWidth", width}, {"exportHeight", height}, {"exportSamples", samples}})
            hand.typeNumber(name, text);
    };
    size("64", "36", "2");
    exportTo("still", "a.png");
    for (const char* file : {"a.glb", "a.csv", "a.png"}) EXPECT_TRUE(QFile::exists(folder.filePath(file))) << file;
    // The tool's table is the same.
    QProcess tool;
    tool.start(GSWARM_TOOL, {"evaluate", tidalFloor, "--frame", "0"});
    ASSERT_TRUE(tool.waitForFinished());
    QFile csv(folder.filePath("a.csv"));
    ASSERT_TRUE(csv.open(QIODevice::ReadOnly));
    EXPECT_EQ(csv.readAll(), tool.readAllStandardOutput());
    // A long one is cancelled.
    size("4000", "4000", "64");
    hand.find<QLineEdit>("exportPath")->setText(folder.filePath("long.png"));
    QTest::mouseClick(hand.find<QPushButton>("exportStart"), Qt::LeftButton);
    QTest::qWait(300);
    const auto buttons = hand.window().findChildren<QToolButton*>("exportCancel");
    ASSERT_EQ(buttons.size(), 4);
    QTest::mouseClick(buttons.last(), Qt::LeftButton);
    QElapsedTimer clock;
    clock.start();
    while (queue.running() && clock.elapsed() < 20000) QTest::qWait(20);
    EXPECT_FALSE(QFile::exists(folder.filePath("long.png")));
    EXPECT_EQ(queue.jobs().size(), 3u);
}

TEST(Window, WithoutOpenGlItSaysSoAndTheRestWorks) {
    qputenv("GILDED_SWARM_NO_GL", "1");
    Hand hand;
    qunsetenv("GILDED_SWARM_NO_GL");
    hand.click("newSwarm");
    EXPECT_TRUE(hand.window().picture().problem().contains("OpenGL 3.3"));
    EXPECT_EQ(hand.result()->count, 100);
    hand.addGesture("rise");
    EXPECT_NEAR(hand.result()->columns->matrix[7], 1.5f, 1e-5f);
}

TEST(Window, EverythingIsReachedByTab) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    std::set<QWidget*> reached;
    hand.window().findChild<QPushButton*>("find")->setFocus();
    for (int k = 0; k < 200; ++k) {
        QTest::keyClick(hand.window().focusWidget(), Qt::Key_Tab);
        reached.insert(hand.window().focusWidget());
    }
    for (const char* name : {"picture", "sceneList", "timeRows", "addGesture", "play", "channel-position", "kind-pattern", "view-weights"})
        EXPECT_TRUE(reached.contains(hand.find<QWidget>(name))) << name;
    for (auto* field : hand.window().findChildren<NumberField*>())
        EXPECT_TRUE(!field->isVisible() || reached.contains(field)) << field->accessibleName().toStdString();
}

TEST(Arithmetic, TakesSumsBracketsAndUnits) {
    EXPECT_EQ(typedNumber("1+2*3", "m", 25), 7);
    EXPECT_EQ(typedNumber("-(2 - 5) / 2", "", 25), 1.5);
    EXPECT_EQ(typedNumber("50cm + 1 m", "m", 25), 1.5);
    EXPECT_EQ(typedNumber("0.5s", "frames", 30), 15);
    EXPECT_EQ(typedNumber("12f", "frames", 30), 12);
    EXPECT_EQ(typedNumber("2 turns", "°", 25), 720);
    EXPECT_EQ(typedNumber("2,5", "m", 25), 2.5);
    for (const char* bad : {"", "x", "1+", "(1", "1/0", "2 kg", "1 2", "--", "((((("}) EXPECT_FALSE(typedNumber(bad, "m", 25)) << bad;
    EXPECT_FALSE(typedNumber(std::string(100000, '('), "m", 25));
    EXPECT_FALSE(typedNumber(std::string(100000, '-'), "m", 25));
}
