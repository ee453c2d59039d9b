// The small panel of preferences, by keyboard and mouse.
#include <gtest/gtest.h>

#include <QLabel>
#include <QLineEdit>
#include <QSettings>
#include <QSplitter>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/settings/settings.h"
#include "app/time/time_panel.h"
#include "app/window/preferences.h"
#include "core/provide/checkpoints.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// A number of the panel is typed over.
void typeInto(Hand& hand, NumberField* field, const QString& text) {
    QTest::mouseClick(field, Qt::LeftButton, {}, QPoint(field->width() - 10, 12));
    auto* editor = field->findChild<QLineEdit*>();
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Return);
    hand.settle();
}

}  // namespace

TEST(PreferencesWindow, TheMemoryOfFollowThroughIsBoundedAndRemembered) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("grow");
    hand.choose("follow-driven", "Swings like a spring");
    hand.key(Qt::Key_Comma, Qt::ControlModifier);
    auto* panel = hand.window().findChild<Preferences*>();
    ASSERT_NE(panel, nullptr);
    ASSERT_TRUE(panel->isVisible());
    auto* limit = panel->findChild<NumberField*>("memoryLimit");
    typeInto(hand, limit, "64");
    EXPECT_EQ(limit->value(), 64);
    EXPECT_EQ(hand.window().evaluation().memoryLimit(), 64);
    EXPECT_EQ(QSettings().value("followThroughMegabytes").toInt(), 64);
    // Beyond the limits the nearest is taken; what is no number is refused in place.
    typeInto(hand, limit, "1");
    EXPECT_EQ(hand.window().evaluation().memoryLimit(), 16);
    typeInto(hand, limit, "plenty");
    EXPECT_EQ(hand.window().evaluation().memoryLimit(), 16);
    EXPECT_NE(panel->findChild<QLabel*>("memoryUsed")->text().indexOf("plenty"), -1);
    auto* pictures = panel->findChild<NumberField*>("pictureLimit");
    typeInto(hand, pictures, "256");
    EXPECT_EQ(hand.window().evaluation().pictureLimit(), 256);
    EXPECT_EQ(hand.window().document().store().mostPictureBytes(), std::size_t{256} << 20);
    EXPECT_EQ(hand.window().evaluation().evaluator().store().mostPictureBytes(), std::size_t{256} << 20);
    typeInto(hand, pictures, "2048");
    typeInto(hand, limit, "512");
    QTest::keyClick(panel, Qt::Key_Escape);
    EXPECT_FALSE(panel->isVisible());
}

TEST(PreferencesWindow, ThePanelsComeBack) {
    Hand hand;
    hand.click("newSwarm");
    hand.key(Qt::Key_1, Qt::ControlModifier);
    hand.key(Qt::Key_2, Qt::ControlModifier);
    hand.key(Qt::Key_3, Qt::ControlModifier);
    EXPECT_FALSE(hand.window().settings().isVisible());
    EXPECT_FALSE(hand.window().time().isVisible());
    hand.key(Qt::Key_Comma, Qt::ControlModifier);
    hand.click("resetPanels");
    EXPECT_TRUE(hand.window().time().isVisible());
    ASSERT_TRUE(hand.window().settings().isVisible());
    EXPECT_NEAR(hand.window().settings().width(), 304, 2);
    EXPECT_NEAR(hand.find<QWidget>("left")->width(), 200, 2);
    EXPECT_NEAR(hand.window().time().height(), 172, 2);
}
