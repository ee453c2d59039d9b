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
#include <QToolButton>

#include "app/fields/number_field.h"
#include "app/rail/rail_card.h"
#include "core/kinds/registry.h"
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

namespace {

/// Whether every word that is seen now fits its box; what can be scrolled sideways or is cut on purpose tells it in full.
void expectWordsFit(const std::string& where) {
    for (QWidget* top : QApplication::topLevelWidgets()) {
        if (!top->isVisible()) continue;
        for (const QLabel* label : top->findChildren<QLabel*>()) {
            if (!label->isVisible() || label->text().isEmpty() || label->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored) continue;
            if (label->wordWrap())
                EXPECT_LE(label->heightForWidth(label->width()), label->height() + 1) << where << ": " << label->text().toStdString();
            else
                EXPECT_LE(label->fontMetrics().horizontalAdvance(label->text()), label->width() + 1)
                    << where << ": " << label->text().toStdString();
        }
        for (const QAbstractButton* button : top->findChildren<QAbstractButton*>()) {
            if (!button->isVisible() || button->text().isEmpty()) continue;
            const auto* tool = qobject_cast<const QToolButton*>(button);
            const bool under = tool && tool->toolButtonStyle() == Qt::ToolButtonTextUnderIcon;
            const int icon = button->icon().isNull() || under ? 0 : button->iconSize().width();
            EXPECT_LE(button->fontMetrics().horizontalAdvance(button->text()) + icon, button->width())
                << where << ": " << button->text().toStdString();
        }
        for (const QComboBox* box : top->findChildren<QComboBox*>()) {
            if (!box->isVisible() || box->inherits("FontField")) continue;
            for (int k = 0; k < box->count(); ++k)
                EXPECT_LE(box->fontMetrics().horizontalAdvance(box->itemText(k)), box->width() - 24)
                    << where << ": " << box->itemText(k).toStdString();
        }
    }
}

}  // namespace

TEST(Accessible, EveryLabelAndChoiceFitsItsBox) {
    Hand hand;
    expectWordsFit("greeting");
    openSonar(hand);
    expectWordsFit("gesture");
    Document& document = hand.window().document();
    for (const ObjectType type :
         {ObjectType::swarm, ObjectType::zone, ObjectType::shape, ObjectType::light, ObjectType::camera, ObjectType::project}) {
        if (hand.scene().all(type).empty()) continue;
        document.choose(hand.scene().all(type).front());
        hand.settle();
        expectWordsFit(classOf(type).id);
    }
    hand.click("addGesture");
    expectWordsFit("gallery of gestures");
    hand.key(Qt::Key_Escape);
    hand.click("addThing");
    expectWordsFit("what can be added");
    hand.key(Qt::Key_Escape);
    hand.key(Qt::Key_F1);
    expectWordsFit("help");
    hand.key(Qt::Key_F1);
    hand.key(Qt::Key_Comma, Qt::ControlModifier);
    expectWordsFit("preferences");
    hand.key(Qt::Key_Escape);
    hand.window().showWorkView("Export");
    hand.settle();
    expectWordsFit("export");
}

TEST(Accessible, EveryKindOfEverythingFitsItsSettings) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    Document& document = hand.window().document();
    const ObjectId swarm = document.swarm(), gesture = hand.scene().all(ObjectType::gesture).front();
    const ObjectId formation = hand.scene().at(swarm).list("formations").front(), shape = hand.scene().all(ObjectType::shape).front();
    document.edit([&](const Scene& s) { return addZone(s, gesture, *kindsOf(Family::zone).front()); });
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    struct Slot {
        ObjectId object;
        const char* part;
        Family family;
    };
    for (const Slot& slot : {Slot{shape, "maker", Family::shape}, Slot{formation, "formation", Family::formation},
                             Slot{gesture, "pattern", Family::pattern}, Slot{zone, "form", Family::zone}}) {
        document.choose(slot.object);
        for (const Kind* kind : kindsOf(slot.family)) {
            document.edit([&](const Scene& s) { return setKind(s, slot.object, slot.part, *kind); });
            hand.settle();
            expectWordsFit(kind->id);
        }
    }
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

namespace {

/// Somebody who has no mouse: each key with its modifiers counts as one action, and so does each word or number typed.
struct Keyboard : Hand {
    int actions = 0;

    void press(int which, Qt::KeyboardModifiers modifiers = Qt::NoModifier) { key(which, modifiers), ++actions; }
    void type(const QString& text) {
        for (const QChar c : text) {
            // A field that is typed into opens a line of its own.
            QWidget* popup = QApplication::activePopupWidget();
            QWidget* target = popup ? popup->focusWidget() : window().focusWidget();
            ASSERT_NE(target, nullptr);
            QTest::keyClicks(target, c);
        }
        settle();
        ++actions;
    }
    /// By the finder: what was found is done, or has the keyboard.
    void find(const QString& words) {
        press(Qt::Key_K, Qt::ControlModifier);
        type(words);
        press(Qt::Key_Return);
    }
    void number(const QString& words, const QString& value) {
        find(words);
        type(value);
        press(Qt::Key_Return);
    }
};

}  // namespace

TEST(Accessible, ADomeThatGrowsInAZoneIsMadeWithoutAMouseInForty) {
    Keyboard hand;
    hand.press(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    hand.find("golden spiral");
    hand.find("onto");
    hand.type("Dome");
    hand.number("count", "400");
    hand.find("random size");
    hand.find("grow");
    hand.number("strength grow", "80");
    // A zone, among the buttons of its section: from section to section, then from field to field.
    const auto in = [&](const QString& name) {
        for (QWidget* up = hand.window().focusWidget(); up; up = up->parentWidget())
            if (up->objectName() == name) return true;
        return false;
    };
    for (int k = 0; k < 20 && !in("section-Where"); ++k) hand.press(Qt::Key_Tab, Qt::ControlModifier);
    for (int k = 0; k < 20 && !in("addZone-ball"); ++k) hand.press(Qt::Key_Tab);
    ASSERT_TRUE(in("addZone-ball"));
    const int tabs = hand.actions;
    hand.press(Qt::Key_Return);
    const ObjectId swarm = hand.window().document().swarm();
    ASSERT_EQ(hand.scene().at(swarm).list("rail").size(), 2u);
    EXPECT_EQ(hand.window().evaluation().resultOf(swarm)->count, 400);
    EXPECT_EQ(choiceOf(hand.scene().at(hand.scene().at(swarm).list("formations").front()).part("formation"), "onto"), "dome");
    EXPECT_EQ(hand.scene().all(ObjectType::zone).size(), 1u);
    const ObjectId grow = hand.window().document().chosen();
    ASSERT_EQ(grow.type(), ObjectType::gesture);
    EXPECT_EQ(numberAt(hand.scene(), hand.scene().at(grow).part("change"), "strength", 0), 80);
    hand.press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.scene().all(ObjectType::zone).empty());
    EXPECT_LE(tabs, 40) << "actions up to the zone";
}
