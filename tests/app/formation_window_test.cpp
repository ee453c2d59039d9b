// Formations, stock and shapes in the real window.
#include <gtest/gtest.h>

#include <algorithm>
#include <QAbstractButton>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QToolButton>

#include "app/fields/number_field.h"
#include "app/picture/picture.h"
#include "app/rail/rail_card.h"
#include "app/scene/scene_list.h"
#include "app/settings/formation_sketch.h"
#include "app/settings/settings.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

ObjectId formationOn(Hand& hand) { return referenceOf(hand.scene().at(hand.window().document().swarm()).part("place"), "formation"); }

const Part& formation(Hand& hand) { return hand.scene().at(formationOn(hand)).part("formation"); }

/// A new swarm with the formation's settings shown.
void startAtFormation(Hand& hand) {
    hand.click("newSwarm");
    hand.click(hand.card("Formation"), QPoint(40, 30));
}

/// Waits for what is worked out at rest.
int overlaps(Hand& hand) {
    QElapsedTimer clock;
    clock.start();
    const ObjectId swarm = hand.window().document().swarm();
    while (hand.window().evaluation().overlapsOf(swarm) < 0 && clock.elapsed() < 10000)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    return hand.window().evaluation().overlapsOf(swarm);
}

QPoint rowOf(Hand& hand, ObjectId id) {
    auto* list = hand.find<SceneList>("sceneList");
    list->scrollToItem(list->itemOf(id));
    return list->visualItemRect(list->itemOf(id)).center();
}

}  // namespace

TEST(FormationWindow, ThePickerTellsCountsKeepsWhatIsSharedAndBringsAGround) {
    Hand hand;
    startAtFormation(hand);
    hand.click("pickFormation");
    auto* faces = hand.window().findChild<FormationSketch*>("formation-elements");
    ASSERT_NE(faces, nullptr);
    EXPECT_TRUE(hand.scene().all(ObjectType::shape).size() == 1);  // looking makes nothing
    QTest::mouseClick(faces, Qt::LeftButton);
    hand.settle();
    EXPECT_EQ(hand.result()->count, 180);  // 20 · 3² faces of the new ball, without typing a count
    ASSERT_EQ(hand.scene().all(ObjectType::shape).size(), 2u);
    const ObjectId ground = hand.scene().all(ObjectType::shape).back();
    EXPECT_EQ(choiceOf(hand.scene().at(ground).part("display"), "as"), "dimmed");
    EXPECT_EQ(hand.result()->backdrops.size(), 1u);
    hand.pickFormation("randomOnMesh");
    EXPECT_EQ(referenceOf(formation(hand), "shape"), ground);
    hand.typeNumber("seed", "7");
    hand.typeNumber("count", "250");
    hand.pickFormation("scatterInMesh");
    EXPECT_EQ(numberAt(hand.scene(), formation(hand), "seed", 0), 7);
    EXPECT_EQ(hand.result()->count, 250);
    for (int k = 0; k < 5; ++k) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.result()->count, 100);
    EXPECT_EQ(hand.scene().all(ObjectType::shape).size(), 1u);
}

TEST(FormationWindow, VersionsStandUnderTheSameGestures) {
    Hand hand;
    startAtFormation(hand);
    hand.click("addVersion");
    hand.typeNumber("count", "20", 0);
    EXPECT_EQ(hand.result()->count, 200);
    hand.click("version-1");
    EXPECT_EQ(hand.result()->count, 100);
    EXPECT_EQ(hand.window().document().chosen(), formationOn(hand));
    hand.click("version-2");
    EXPECT_EQ(hand.result()->count, 200);
    hand.click("removeVersion");
    EXPECT_EQ(hand.result()->count, 100);
    EXPECT_EQ(hand.window().document().chosen(), formationOn(hand));
}

TEST(FormationWindow, StandingAndOrderAreOpenedAndChanged) {
    Hand hand;
    startAtFormation(hand);
    hand.window().settings().setSectionOpen("Standing and order", true);
    hand.settle();
    hand.typeNumber("standing-offset", "0.5");
    EXPECT_NEAR(hand.result()->columns->matrix[7] - 0.5f, 0.5f, 1e-5f);
    const auto rising = [&](std::size_t axis) {
        std::vector<float> places;
        for (std::size_t i = 0; i < 100; ++i) places.push_back(hand.result()->columns->matrix[12 * i + 4 * axis + 3]);
        return std::is_sorted(places.begin(), places.end());
    };
    hand.choose("order-by", "Along an axis");
    hand.choose("order-axis", "X");
    EXPECT_TRUE(rising(0));
    EXPECT_FALSE(rising(2));
    hand.choose("order-axis", "Z");
    EXPECT_TRUE(rising(2));
    EXPECT_FALSE(rising(0));
}

TEST(StockWindow, AddsWeighsReordersFitsAndTellsOverlaps) {
    Hand hand;
    hand.click("newSwarm");
    hand.click(hand.card("Stock"), QPoint(40, 30));
    hand.click("addStock");
    hand.choose("kind-maker", "Ball");
    ASSERT_EQ(hand.result()->variants.size(), 2u);
    hand.choose("stock-rule-by", "At random, with odds");
    hand.click("stockRow-2");
    auto* odds = hand.find<QWidget>("stockRow-2")->findChild<NumberField*>();
    ASSERT_NE(odds, nullptr);
    const auto second = [&] {
        int count = 0;
        for (int i = 0; i < 100; ++i) count += hand.result()->columns->variant[static_cast<std::size_t>(i)] == 1;
        return count;
    };
    EXPECT_NEAR(second(), 50, 20);
    const ObjectId entry = hand.scene().at(hand.window().document().swarm()).list("stock").back();
    QTest::mouseClick(odds, Qt::LeftButton, {}, QPoint(odds->width() - 10, 12));
    QTest::keyClick(odds->findChild<QLineEdit*>(), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(odds->findChild<QLineEdit*>(), "0");
    QTest::keyClick(odds->findChild<QLineEdit*>(), Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(numberAt(hand.scene(), hand.scene().at(entry).part("entry"), "odds", 0), 0);
    EXPECT_EQ(second(), 0);
    hand.click("stockUp-2");
    EXPECT_EQ(hand.scene().at(hand.window().document().swarm()).list("stock").front(), entry);
    hand.click("stockRemove-1");
    EXPECT_EQ(hand.result()->variants.size(), 1u);
    // Fit: boxes on a grid of 1.25 m touch and don't overlap; beyond that they all do.
    EXPECT_EQ(overlaps(hand), 0);
    QTest::mouseClick(hand.find<QWidget>("stock-rule-fit")->findChild<QAbstractButton*>(), Qt::LeftButton);
    hand.settle();
    EXPECT_FLOAT_EQ(hand.result()->variants[0].size, 1.25f);
    EXPECT_EQ(overlaps(hand), 0);
    hand.typeNumber("stock-rule-gap", "-5");
    EXPECT_EQ(overlaps(hand), 100);
    auto* card = static_cast<RailCard*>(hand.card("Result"));
    EXPECT_TRUE(card->state().count.contains("100 overlap")) << card->state().count.toStdString();
}

TEST(ShapeWindow, LetteringIsTypedFilledWithCellsAndShownByItsSwitch) {
    Hand hand;
    startAtFormation(hand);
    hand.pickFormation("cells");
    hand.typeNumber("spacing", "0.15");
    const ObjectId ground = hand.scene().all(ObjectType::shape).back();
    auto* list = hand.find<SceneList>("sceneList");
    hand.click(list->viewport(), rowOf(hand, ground));
    hand.choose("kind-maker", "Lettering");
    auto* text = hand.find<QPlainTextEdit>("lines");
    ASSERT_NE(text, nullptr);
    QTest::mouseClick(text->viewport(), Qt::LeftButton);
    QTest::keyClick(text, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(text, "OI");
    hand.settle();
    EXPECT_EQ(choiceOf(hand.scene().at(ground).part("maker"), "text"), "OI");
    const int two = hand.result()->count;
    EXPECT_GT(two, 20);
    QTest::keyClicks(hand.find<QPlainTextEdit>("lines"), "O");
    hand.settle();
    EXPECT_GT(hand.result()->count, two + 10);
    // Dimmed → hidden → shown, by the mark at the right of its row and by V.
    const auto as = [&] { return choiceOf(hand.scene().at(ground).part("display"), "as"); };
    EXPECT_EQ(as(), "dimmed");
    hand.click(list->viewport(), QPoint(list->viewport()->width() - 12, rowOf(hand, ground).y()));
    EXPECT_EQ(as(), "hidden");
    EXPECT_TRUE(hand.result()->backdrops.empty());
    list->setFocus();
    hand.key(Qt::Key_V);
    EXPECT_EQ(as(), "shown");
    EXPECT_FALSE(hand.result()->backdrops.at(0).dimmed);
}

TEST(ShapeWindow, APathsPointsAreDraggedInThePictureAndTyped) {
    Hand hand;
    startAtFormation(hand);
    hand.pickFormation("alongCurve");
    const ObjectId path = hand.scene().all(ObjectType::shape).back();
    hand.click(hand.find<SceneList>("sceneList")->viewport(), rowOf(hand, path));
    const auto points = [&] { return std::get<Points>(hand.scene().at(path).part("maker")["points"]); };
    const auto at = hand.window().picture().handlePlace("point 2");
    ASSERT_TRUE(at);
    const Points before = points();
    hand.drag(&hand.window().picture(), *at, {60, 0});
    EXPECT_NE(points()[1], before[1]);
    EXPECT_EQ(points()[2], before[2]);
    const auto moved = hand.window().picture().handlePlace("point 2");
    ASSERT_TRUE(moved);
    EXPECT_NEAR(moved->x(), at->x() + 60, 3);
    EXPECT_NEAR(moved->y(), at->y(), 3);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(points(), before);
    hand.click("addPoint-4");
    EXPECT_EQ(points().size(), 5u);
    hand.typeNumber("points", "3.5", 13);  // y of the fifth point
    EXPECT_EQ(points()[4][1], 3.5);
}

TEST(ShapeWindow, BreakingABallUpMakesASwarmOfItsPieces) {
    Hand hand;
    hand.click("newSwarm");
    hand.click(hand.card("Stock"), QPoint(40, 30));
    hand.choose("kind-maker", "Regular solid");
    hand.choose("solid", "Dodecahedron, 12 faces");
    const ObjectId shape = hand.scene().all(ObjectType::shape).front();
    hand.click(hand.find<SceneList>("sceneList")->viewport(), rowOf(hand, shape));
    hand.click("breakUp");
    ASSERT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u);
    EXPECT_EQ(hand.window().document().chosen(), hand.window().document().swarm());
    EXPECT_EQ(hand.result()->count, 12);
    EXPECT_EQ(hand.result()->variants.size(), 12u);
}

TEST(SwarmWindow, HandlesMoveTurnAndSizeTheWholeSwarm) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    auto& picture = hand.window().picture();
    const auto number = [&](const char* parameter, int c) {
        return numberAt(hand.scene(), hand.scene().at(swarm).part("place"), parameter, 0, c);
    };
    const auto x = picture.handlePlace("x");
    ASSERT_TRUE(x);
    hand.drag(&picture, *x, {50, 10});
    EXPECT_GT(number("position", 0), 0.2);
    EXPECT_EQ(number("position", 1), 0);
    picture.setFocus();
    hand.key(Qt::Key_2);
    hand.drag(&picture, *picture.handlePlace("y"), {60, 0});
    EXPECT_NEAR(number("rotation", 1), 30, 0.1);
    hand.key(Qt::Key_3);
    hand.drag(&picture, *picture.handlePlace("scale"), {40, 8});
    EXPECT_GT(number("scale", 0), 1.1);
}

TEST(WarpWindow, BeginsAroundTheSwarmAndIsDraggedByItsHandles) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId formation = hand.scene().at(hand.window().document().swarm()).list("formations").front();
    hand.window().document().edit([&](const Scene& s) { return setValue(s, addressOf(s, formation, "count"), fixedNumbers({3, 9, 3})); });
    hand.settle();
    const float before = hand.result()->home.bounds.size().y;
    hand.addGesture("bend");
    const ObjectId bend = hand.window().document().chosen();
    const auto number = [&](const char* parameter, int c = 0) {
        return numberAt(hand.scene(), hand.scene().at(bend).part("change"), parameter, 0, c);
    };
    // From where the swarm begins to where it ends, about its middle.
    EXPECT_NEAR(number("to") - number("from"), before, 0.01);
    EXPECT_NEAR(number("centre", 1), hand.result()->home.bounds.centre().y, 0.01);
    const auto lean = [&] {
        float most = 0;
        for (int i = 0; i < hand.result()->count; ++i) most = std::max(most, std::abs(hand.result()->columns->matrix[12 * i + 3]));
        return most;
    };
    const float bent = lean();
    EXPECT_GT(bent, 2);
    auto& picture = hand.window().picture();
    picture.setFocus();
    ASSERT_TRUE(picture.handlePlace("x"));
    hand.drag(&picture, *picture.handlePlace("x"), {40, 8});
    EXPECT_GT(number("centre", 0), 0.1);
    hand.key(Qt::Key_2);
    hand.drag(&picture, *picture.handlePlace("y"), {60, 0});
    EXPECT_NEAR(number("rotation", 1), 30, 0.1);
    hand.key(Qt::Key_3);
    for (const char* name : {"from", "to", "angle"}) ASSERT_TRUE(picture.handlePlace(name)) << name;
    const double to = number("to"), angle = number("angle");
    hand.drag(&picture, *picture.handlePlace("to"), {0, -30});
    EXPECT_GT(number("to"), to + 0.1);
    hand.drag(&picture, *picture.handlePlace("angle"), {-30, 0});
    EXPECT_LT(number("angle"), angle - 2);
    // A zone takes the handles; without it they are the warp's again.
    hand.click("addZone-ball");
    EXPECT_FALSE(picture.handlePlace("angle"));
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(picture.handlePlace("angle"));
    // Keyed at its centre.
    hand.key(Qt::Key_1);
    hand.key(Qt::Key_K, Qt::ShiftModifier);
    EXPECT_TRUE(std::get<Numbers>(hand.scene().at(bend).part("change")["centre"]).front().keyed());
}

TEST(LongWork, ShowsProgressAndIsStoppedWithoutLosingAnything) {
    Hand hand;
    startAtFormation(hand);
    hand.pickFormation("evenlySpaced");
    const int before = hand.result()->count;
    hand.choose("measure", "Distance");
    const int shown = hand.result()->count;
    const double fitted = numberAt(hand.scene(), formation(hand), "distance", 0);
    EXPECT_NE(before, 0);
    auto* distance = hand.field("distance");
    ASSERT_NE(distance, nullptr);
    QTest::mouseClick(distance, Qt::LeftButton, {}, QPoint(distance->width() - 10, 12));
    QTest::keyClick(distance->findChild<QLineEdit*>(), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(distance->findChild<QLineEdit*>(), "0.0042");
    QTest::keyClick(distance->findChild<QLineEdit*>(), Qt::Key_Return);
    // About two million points: the window goes on while they are made, and says how far it is.
    QElapsedTimer clock;
    clock.start();
    QPushButton* stop = nullptr;
    while (!stop && clock.elapsed() < 20000) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        stop = hand.find<QPushButton>("stopWork");
    }
    ASSERT_NE(stop, nullptr);
    QTest::mouseClick(stop, Qt::LeftButton);
    hand.settle();
    EXPECT_EQ(hand.result()->count, shown);
    EXPECT_TRUE(hand.line().contains("Stopped")) << hand.line().toStdString();
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.result()->count, shown);
    EXPECT_NEAR(numberAt(hand.scene(), formation(hand), "distance", 0), fitted, 1e-9);
}

TEST(LongWork, ASizeBeyondTheLimitIsRefusedInPlaceWithTheFigure) {
    Hand hand;
    startAtFormation(hand);
    hand.typeNumber("count", "100000", 0);
    auto* told = hand.find<QLabel>("told");
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(hand.result()->count, 1000000) << told->text().toStdString();
    hand.typeNumber("count", "100000", 2);
    told = hand.find<QLabel>("told");
    EXPECT_TRUE(told->text().contains("10 000 000 000 instances, more than the limit of 16 000 000")) << told->text().toStdString();
    EXPECT_EQ(hand.result()->count, 1000000);  // what was there before stays
}
