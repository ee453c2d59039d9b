// Fields by mouse and keyboard: ramps, colours, points.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <QAbstractItemView>
#include <QApplication>
#include <QClipboard>
#include <QCompleter>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QToolButton>

#include "app/fields/colour_field.h"
#include "app/fields/font_field.h"
#include "app/fields/points_field.h"
#include "app/fields/ramp_field.h"
#include "app/picture/picture.h"
#include "core/edit/edit.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

const Value& valueNow(Hand& hand, const char* parameter) {
    return valueOf(hand.scene(), addressOf(hand.scene(), hand.window().document().chosen(), parameter));
}

Ramp rampNow(Hand& hand) { return std::get<Ramp>(valueNow(hand, "ramp")); }

/// A pixel of the bar at a share of the ramp.
QPoint onRamp(RampField* field, double at) { return {static_cast<int>(std::lround(5 + at * (field->width() - 10))), 10}; }

void typeHex(Hand& hand, ColourField* field, const QString& text) {
    auto* line = field->findChild<QLineEdit*>();
    line->setFocus();
    QTest::keyClick(line, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    hand.settle();
}

}  // namespace

TEST(Fields, ARampTakesMovesAndLosesStops) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("gild");
    auto* field = hand.window().findChild<RampField*>();
    ASSERT_NE(field, nullptr);
    const Ramp before = rampNow(hand);
    ASSERT_EQ(before.size(), 3u);

    // Between the first two; it has the colour of the one before it.
    QTest::mouseDClick(field, Qt::LeftButton, {}, onRamp(field, 0.3));
    hand.settle();
    ASSERT_EQ(rampNow(hand).size(), 4u);
    EXPECT_NEAR(rampNow(hand)[1].at, 0.3, 0.011);
    EXPECT_EQ(rampNow(hand)[1].colour, before[0].colour);

    // A stop is dragged as far as its neighbours and no further.
    hand.drag(field, onRamp(field, rampNow(hand)[1].at), QPointF(0.1 * (field->width() - 10), 0));
    EXPECT_NEAR(rampNow(hand)[1].at, 0.4, 0.011);
    hand.drag(field, onRamp(field, rampNow(hand)[1].at), QPointF(0.5 * (field->width() - 10), 0));
    EXPECT_EQ(rampNow(hand)[1].at, before[1].at);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(rampNow(hand)[1].at, 0.4, 0.011);

    // Its colour is typed; the others keep theirs.
    typeHex(hand, field->findChild<ColourField*>(), "#336699");
    EXPECT_NEAR(rampNow(hand)[1].colour[0], 0x33 / 255.0, 1e-4);
    EXPECT_NEAR(rampNow(hand)[1].colour[2], 0x99 / 255.0, 1e-4);
    EXPECT_EQ(rampNow(hand)[0].colour, before[0].colour);

    // The arrows choose the next, Delete takes it away, but never the last one.
    field->setFocus();
    QTest::keyClick(field, Qt::Key_Right);
    QTest::keyClick(field, Qt::Key_Delete);
    hand.settle();
    ASSERT_EQ(rampNow(hand).size(), 3u);
    EXPECT_EQ(rampNow(hand)[2].at, before[2].at);
    EXPECT_NEAR(rampNow(hand)[1].at, 0.4, 0.011);
    for (int k = 0; k < 2; ++k) QTest::keyClick(field, Qt::Key_Delete);
    hand.settle();
    ASSERT_EQ(rampNow(hand).size(), 1u);
    QTest::keyClick(field, Qt::Key_Delete);
    hand.settle();
    EXPECT_EQ(rampNow(hand).size(), 1u);
    EXPECT_TRUE(hand.line().contains("at least one stop")) << hand.line().toStdString();

    while (rampNow(hand).size() != 3 || rampNow(hand) != before) {
        ASSERT_TRUE(hand.window().document().history().canUndo());
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        ASSERT_EQ(hand.window().document().chosen().type(), ObjectType::gesture);
    }
}

TEST(Fields, AColourIsTypedDraggedAndRefused) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("tint");
    auto* row = hand.find<QWidget>("colourAmount");
    ASSERT_NE(row, nullptr);
    auto* field = row->findChild<ColourField*>();
    const auto channel = [&](int c) {
        return numberAt(hand.scene(), hand.scene().at(hand.window().document().chosen()).part("change"), "colourAmount", 0, c);
    };

    typeHex(hand, field, "0080ff");  // without the sign
    EXPECT_NEAR(channel(0), 0, 1e-4);
    EXPECT_NEAR(channel(1), 0x80 / 255.0, 1e-4);
    EXPECT_NEAR(channel(2), 1, 1e-4);
    // Every instance has it: sRGB as it was typed.
    const auto packed = hand.result()->columns->colour;
    for (const std::uint32_t c : packed) ASSERT_EQ(c & 0xFFFFFF, 0xFF8000u);

    typeHex(hand, field, "brass");
    EXPECT_NEAR(channel(1), 0x80 / 255.0, 1e-4);
    EXPECT_TRUE(hand.line().contains("brass")) << hand.line().toStdString();
    EXPECT_EQ(field->findChild<QLineEdit*>()->text(), "#0080ff");

    // Unfolded, brightness at the left end is black, and one undo brings the colour back.
    QTest::mouseClick(field->findChild<QPushButton*>(), Qt::LeftButton);
    QWidget* brightness = nullptr;
    for (QWidget* child : field->findChildren<QWidget*>())
        if (child->accessibleName() == "Brightness") brightness = child;
    ASSERT_NE(brightness, nullptr);
    ASSERT_TRUE(brightness->isVisible());
    const double middle = brightness->width() / 2.0;
    hand.drag(brightness, QPointF(middle, 9), QPointF(-middle - 10, 0));
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(channel(c), 0, 1e-4) << c;
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(channel(2), 1, 1e-4);
}

TEST(Fields, AColourKeepsItsOpacityAndWhatIsBrighterThanTheScreen) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("tint");
    auto* field = hand.find<QWidget>("colourAmount")->findChild<ColourField*>();
    const auto channel = [&](int c) {
        return numberAt(hand.scene(), hand.scene().at(hand.window().document().chosen()).part("change"), "colourAmount", 0, c);
    };
    const auto text = [&]() -> std::string {
        hand.window().picture().setFocus();
        hand.settle();
        return field->findChild<QLineEdit*>()->text().toStdString();
    };
    typeHex(hand, field, "#33669980");
    EXPECT_NEAR(channel(3), 0x80 / 255.0, 1e-4);
    typeHex(hand, field, "#112233");
    EXPECT_NEAR(channel(0), 0x11 / 255.0, 1e-4);
    EXPECT_NEAR(channel(3), 0x80 / 255.0, 1e-4) << "what says nothing of opacity keeps it";
    EXPECT_EQ(text(), "#11223380");
    typeHex(hand, field, "1.5, 0.25 0.1");
    EXPECT_NEAR(channel(0), 1.5, 1e-9);
    EXPECT_NEAR(channel(1), 0.25, 1e-9);
    EXPECT_EQ(text(), "1.5, 0.25, 0.1, 0.502");

    // Another hue is as bright as this one, and as opaque.
    QTest::mouseClick(field->findChild<QPushButton*>(), Qt::LeftButton);
    auto* hue = field->findChild<QWidget*>("Hue");
    ASSERT_NE(hue, nullptr);
    QTest::mouseClick(hue, Qt::LeftButton, {}, QPoint(hue->width() * 2 / 3, 9));
    hand.settle();
    EXPECT_NEAR(std::max({channel(0), channel(1), channel(2)}), 1.5, 1e-3);
    EXPECT_GT(channel(2), channel(0));
    EXPECT_NEAR(channel(3), 0x80 / 255.0, 1e-4);
    auto* opacity = field->findChild<QWidget*>("Opacity");
    ASSERT_NE(opacity, nullptr);
    const double blue = channel(2);
    QTest::mouseClick(opacity, Qt::LeftButton, {}, QPoint(opacity->width() / 4, 9));
    hand.settle();
    EXPECT_NEAR(channel(3), 0.25, 0.03);
    EXPECT_EQ(channel(2), blue);

    // The background lets nothing through, so it has no opacity.
    hand.window().document().choose(hand.scene().project().id);
    hand.settle();
    auto* background = hand.find<QWidget>("background")->findChild<ColourField*>();
    QTest::mouseClick(background->findChild<QPushButton*>(), Qt::LeftButton);
    EXPECT_EQ(background->findChild<QWidget*>("Opacity"), nullptr);
    EXPECT_NE(background->findChild<QWidget*>("Hue"), nullptr);
}

TEST(Fields, AFontIsFoundInAListThatLacksWhatLettersCantBeMadeOf) {
    Hand hand;
    hand.click("addThing");
    hand.click("add-shape-lettering");
    const ObjectId lettering = hand.window().document().chosen();
    const auto family = [&] { return std::get<std::string>(valueOf(hand.scene(), addressOf(hand.scene(), lettering, "font"))); };
    auto* field = hand.find<QWidget>("font")->findChild<FontField*>();
    ASSERT_NE(field, nullptr);
    EXPECT_EQ(field->itemText(0), "Cabin SemiBold");
    EXPECT_EQ(field->findText("B612"), -1) << "only the program's own words have it";
    ASSERT_GT(field->count(), 3);
    for (int k = 0; k < field->count(); ++k) EXPECT_FALSE(field->itemText(k).contains('[')) << field->itemText(k).toStdString();
    const QString other = field->itemText(field->count() - 1);
    // Any part of the name finds it.
    field->lineEdit()->setFocus();
    QTest::keyClick(field->lineEdit(), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(field->lineEdit(), other.mid(1).toLower());
    EXPECT_EQ(field->completer()->completionCount() > 0, true) << other.toStdString();
    QTest::keyClick(field->lineEdit(), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(field->lineEdit(), other);
    QTest::keyClick(field->lineEdit(), Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(family(), other.toStdString());
    EXPECT_TRUE(field->view()->minimumWidth() > 250) << "no name is cut off";
}

TEST(Fields, PastingWhatIsNoTextIntoTextChangesNothing) {
    Hand hand;
    hand.click("addThing");
    hand.click("add-shape-lettering");
    auto* lines = hand.find<QPlainTextEdit>("lines");
    ASSERT_NE(lines, nullptr);
    const QString before = lines->toPlainText();
    QGuiApplication::clipboard()->setMimeData(new QMimeData);  // of no format at all
    lines->setFocus();
    QTest::keyClick(lines, Qt::Key_V, Qt::ControlModifier);
    hand.settle();
    EXPECT_EQ(lines->toPlainText(), before);
    QGuiApplication::clipboard()->setText("KELP");
    QTest::keyClick(lines, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(lines, Qt::Key_V, Qt::ControlModifier);
    hand.settle();
    EXPECT_EQ(lines->toPlainText(), "KELP");
}

TEST(Fields, PathPointsAreAddedTypedAndTakenAway) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("ripple");  // brings a path to ripple from
    const ObjectId path = [&] {
        for (const ObjectId id : hand.scene().all(ObjectType::shape))
            if (hand.scene().at(id).part("maker").kind->id == "path") return id;
        return ObjectId{};
    }();
    ASSERT_TRUE(path);
    hand.window().document().choose(path);
    hand.settle();
    const auto points = [&] { return std::get<Points>(valueNow(hand, "points")); };
    const Points before = points();
    ASSERT_GE(before.size(), 2u);

    // Halfway to the next.
    hand.click("addPoint-1");
    ASSERT_EQ(points().size(), before.size() + 1);
    for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(points()[1][c], (before[0][c] + before[1][c]) / 2, 1e-9);
    hand.typeNumber("point-2-y", "3/2");
    EXPECT_EQ(points()[1][1], 1.5);
    // Behind the last, as far again as the last step.
    const std::size_t last = points().size();
    const auto end = points()[last - 1], beforeEnd = points()[last - 2];
    hand.click(QString("addPoint-%1").arg(last));
    for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(points()[last][c], 2 * end[c] - beforeEnd[c], 1e-9);

    // Twelve have a row; of further ones their number is told.
    EXPECT_FALSE(hand.find<QLabel>("furtherPoints"));
    while (points().size() < 14) hand.click("addPoint-1");
    ASSERT_TRUE(hand.find<QLabel>("furtherPoints"));
    EXPECT_TRUE(hand.find<QLabel>("furtherPoints")->text().startsWith("and 2 more"));

    // A path keeps its last two points.
    auto* field = hand.window().findChild<PointsField*>();
    const auto takeFirst = [&] {
        for (auto* button : field->findChildren<QToolButton*>())
            if (button->isVisible() && button->accessibleName() == "Take this point away") {
                QTest::mouseClick(button, Qt::LeftButton);
                hand.settle();
                return;
            }
    };
    while (points().size() > 2) {
        const std::size_t count = points().size();
        takeFirst();
        ASSERT_EQ(points().size(), count - 1);
    }
    takeFirst();
    EXPECT_EQ(points().size(), 2u);
    EXPECT_FALSE(hand.line().isEmpty());
}
