// What assistive technology is told, and whether every word fits its box at larger letters.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QAccessible>
#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/rail/rail_card.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

void openSonar(Hand& hand) {
    ASSERT_TRUE(hand.window().openFile(GSWARM_SOURCE "/demo/sonar.gswarm"));
    hand.window().document().choose(hand.scene().all(ObjectType::gesture).front());
    hand.settle();
}

}  // namespace

TEST(Accessible, EverythingThatTakesTheKeyboardHasANameAndARole) {
    Hand hand;
    openSonar(hand);
    int looked = 0;
    for (QWidget* widget : hand.window().findChildren<QWidget*>()) {
        if (!widget->isVisible() || !(widget->focusPolicy() & Qt::TabFocus) || widget->inherits("QScrollBar")) continue;
        QAccessibleInterface* said = QAccessible::queryAccessibleInterface(widget);
        ASSERT_NE(said, nullptr) << widget->objectName().toStdString();
        const std::string who = std::string(widget->metaObject()->className()) + " " + widget->objectName().toStdString();
        EXPECT_FALSE(said->text(QAccessible::Name).isEmpty() && said->text(QAccessible::Description).isEmpty()) << who;
        EXPECT_NE(said->role(), QAccessible::NoRole) << who;
        ++looked;
    }
    EXPECT_GT(looked, 40);
}

TEST(Accessible, NumbersAndCardsTellTheirValues) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.typeNumber("strength", "40");
    // Asked for anew each time: a key brings other rows.
    const auto strength = [&] { return QAccessible::queryAccessibleInterface(hand.field("strength")); };
    ASSERT_NE(strength(), nullptr);
    EXPECT_EQ(strength()->role(), QAccessible::SpinBox);
    EXPECT_EQ(strength()->text(QAccessible::Name), "Strength");
    EXPECT_EQ(strength()->text(QAccessible::Value), "40 %");
    hand.field("strength")->setFocus();
    hand.key(Qt::Key_K);
    ASSERT_NE(strength(), nullptr);
    EXPECT_EQ(strength()->text(QAccessible::Value), "40 %, keyed here");
    QAccessibleInterface* card = QAccessible::queryAccessibleInterface(hand.card("Rise"));
    EXPECT_EQ(card->role(), QAccessible::Button);
    EXPECT_EQ(card->text(QAccessible::Name), "Rise");
    EXPECT_TRUE(card->text(QAccessible::Value).contains("on 100")) << card->text(QAccessible::Value).toStdString();
    QAccessibleInterface* x = QAccessible::queryAccessibleInterface(hand.field("positionAmount", 1));
    EXPECT_EQ(x->text(QAccessible::Name), "Amount Y");
}

TEST(Accessible, EveryLabelAndChoiceFitsItsBox) {
    Hand hand;
    openSonar(hand);
    const auto check = [&](const char* where) {
        for (const QLabel* label : hand.window().findChildren<QLabel*>()) {
            if (!label->isVisible() || label->wordWrap() || label->text().isEmpty() ||
                label->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored)
                continue;
            EXPECT_LE(label->fontMetrics().horizontalAdvance(label->text()), label->width() + 1)
                << where << ": " << label->text().toStdString();
        }
        for (const QAbstractButton* button : hand.window().findChildren<QAbstractButton*>()) {
            if (!button->isVisible() || button->text().isEmpty()) continue;
            const int icon = button->icon().isNull() ? 0 : button->iconSize().width();
            EXPECT_LE(button->fontMetrics().horizontalAdvance(button->text()) + icon, button->width())
                << where << ": " << button->text().toStdString();
        }
        for (const QComboBox* box : hand.window().findChildren<QComboBox*>()) {
            if (!box->isVisible()) continue;
            EXPECT_LE(box->fontMetrics().horizontalAdvance(box->currentText()), box->width() - 24)
                << where << ": " << box->currentText().toStdString();
        }
    };
    check("gesture");
    for (const ObjectType type :
         {ObjectType::swarm, ObjectType::zone, ObjectType::shape, ObjectType::light, ObjectType::camera, ObjectType::project}) {
        if (hand.scene().all(type).empty()) continue;
        hand.window().document().choose(hand.scene().all(type).front());
        hand.settle();
        check(classOf(type).id.c_str());
    }
    hand.window().showWorkView("Export");
    hand.settle();
    check("export");
}

TEST(Numbers, AreCopiedPastedOneOrSeveralAndNameOthersAtOnce) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.click("addZone-ball");
    const auto zone = hand.scene().all(ObjectType::zone).front();
    const auto number = [&](ObjectId id, const char* parameter, int component = 0) {
        return numberAt(hand.scene(),
                        hand.scene().at(id).part(id == zone ? (std::string(parameter) == "radius" ? "form" : "place") : "change"),
                        parameter, 0, component);
    };
    hand.window().document().choose(zone);
    hand.settle();
    hand.typeNumber("radius", "2.5");
    hand.field("radius")->copy();
    hand.field("position", 1)->setFocus();
    hand.key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(number(zone, "position", 1), 2.5);
    QGuiApplication::clipboard()->setText("1 2 3");
    hand.field("position", 0)->setFocus();
    hand.key(Qt::Key_V, Qt::ControlModifier);
    for (int c = 0; c < 3; ++c) EXPECT_EQ(number(zone, "position", c), c + 1) << c;
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(number(zone, "position", 1), 2.5) << "one step back";
    // The name of another setting makes a formula.
    const std::string name = hand.scene().at(zone).name;
    hand.typeNumber("radius", "4");
    hand.window().document().choose(hand.scene().all(ObjectType::gesture).front());
    hand.settle();
    hand.typeNumber("positionAmount", "'" + QString::fromStdString(name) + "'.radius * 2", 1);
    EXPECT_EQ(number(hand.scene().all(ObjectType::gesture).front(), "positionAmount", 1), 8);
    // What is neither keeps the number, and says so.
    hand.typeNumber("strength", "abc");
    EXPECT_TRUE(hand.line().contains("“abc” is not a number; Strength stays 100 %.")) << hand.line().toStdString();
}
