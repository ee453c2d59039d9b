// Settings by mouse and keyboard: menus of numbers, linking, responses, sections, the way of the keyboard through the rows.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <QApplication>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QLabel>
#include <QLineEdit>
#include <QTest>
#include <QToolButton>
#include <QWheelEvent>
#include <set>

#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/picture/picture.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/settings/settings.h"
#include "core/edit/edit.h"
#include "core/kinds/registry.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

const Value& valueNow(Hand& hand, const char* parameter) {
    return valueOf(hand.scene(), addressOf(hand.scene(), hand.window().document().chosen(), parameter));
}

/// One column of the matrices' last column: x, y or z of every instance.
std::vector<float> places(Hand& hand, int axis) {
    const auto r = hand.result();
    std::vector<float> out;
    for (int i = 0; i < r->count; ++i)
        out.push_back(r->columns->matrix[12 * static_cast<std::size_t>(i) + 4 * static_cast<std::size_t>(axis) + 3]);
    return out;
}

Section* section(Hand& hand, const QString& title) { return hand.find<Section>("section-" + title); }

/// Clicks the title of a section.
void fold(Hand& hand, const QString& title) {
    auto* found = section(hand, title);
    ASSERT_NE(found, nullptr) << title.toStdString();
    QTest::mouseClick(found->findChild<QToolButton*>(), Qt::LeftButton);
    hand.settle();
}

/// The menu of a number, by the right button on its field.
void openNumberMenu(Hand& hand, const QString& row, int component, const QString& entry) {
    NumberField* field = hand.field(row, component);
    ASSERT_NE(field, nullptr);
    Hand::answerMenu(entry);
    const QPoint at(field->width() / 2, field->height() / 2);
    QContextMenuEvent event(QContextMenuEvent::Mouse, at, field->mapToGlobal(at));
    QApplication::sendEvent(field, &event);
    hand.settle();
}

/// Turns a switch over.
void turn(Hand& hand, const QString& row) {
    auto* found = hand.find<QWidget>(row);
    ASSERT_NE(found, nullptr) << row.toStdString();
    QTest::mouseClick(found->findChild<Switch*>(), Qt::LeftButton);
    hand.settle();
}

}  // namespace

TEST(SettingsWindow, EscapeLeavesLinkingWhereverTheFocusIs) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    Document& document = hand.window().document();
    const Address strength = addressOf(hand.scene(), document.chosen(), "strength");
    for (QWidget* focus : {static_cast<QWidget*>(hand.field("strength")), static_cast<QWidget*>(&hand.window().picture())}) {
        document.startLink(strength);
        ASSERT_TRUE(document.linking());
        focus->setFocus();
        QTest::keyClick(hand.window().focusWidget(), Qt::Key_Escape);
        EXPECT_FALSE(document.linking());
    }
    const Scene before = hand.scene();
    QTest::mouseClick(hand.field("strength"), Qt::LeftButton);
    hand.settle();
    EXPECT_TRUE(hand.scene() == before) << "a click links nothing any more";
}

TEST(SettingsWindow, ANumbersMenuKeysFixesFollowsAndResets) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen();
    const auto track = [&] { return std::get<Numbers>(valueOf(hand.scene(), addressOf(hand.scene(), gesture, "positionAmount")))[1]; };

    hand.typeNumber("positionAmount", "2", 1);
    openNumberMenu(hand, "positionAmount", 1, "Key here");
    ASSERT_TRUE(track().keyed());
    hand.window().document().setFrame(20);
    hand.settle();
    hand.typeNumber("positionAmount", "4", 1);
    ASSERT_EQ(track().keys->size(), 2u);
    hand.window().document().setFrame(10);
    hand.settle();
    EXPECT_NEAR(valueAt(hand.scene(), track(), 10), 3, 0.001);

    // Fixed keeps what is shown now.
    openNumberMenu(hand, "positionAmount", 1, "Fixed");
    EXPECT_FALSE(track().moves());
    EXPECT_NEAR(track().value, 3, 0.001);

    // A formula begins with that number, in its editor.
    openNumberMenu(hand, "positionAmount", 1, "Formula");
    ASSERT_TRUE(track().formula);
    EXPECT_NEAR(valueAt(hand.scene(), track(), 10), 3, 0.001);

    openNumberMenu(hand, "positionAmount", 1, "Reset");
    EXPECT_FALSE(track().moves());
    EXPECT_EQ(track().value, 1);  // as the table has it
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(track().formula);
}

TEST(SettingsWindow, ResponsesBendWhatDrives) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("gild");  // driven by the height or along another axis, 0 … 1
    hand.choose("pattern-axis", "X");
    hand.click("channel-position");
    for (int c = 0; c < 3; ++c) hand.typeNumber("positionAmount", c == 1 ? "1" : "0", c);
    const auto heights = [&] { return places(hand, 1); };
    const auto range = [&] {
        const auto all = heights();
        return *std::max_element(all.begin(), all.end()) - *std::min_element(all.begin(), all.end());
    };
    const auto plain = heights();
    EXPECT_NEAR(range(), 1, 1e-5);

    fold(hand, "Shaped how");
    hand.click("response-shaped");
    // Back to front.
    turn(hand, "shaped-invert");
    const auto inverted = heights();
    const float sum = plain.front() + inverted.front();
    for (std::size_t i = 0; i < plain.size(); ++i) ASSERT_NEAR(plain[i] + inverted[i], sum, 1e-5) << i;
    turn(hand, "shaped-invert");
    EXPECT_EQ(heights(), plain);

    // Two steps: two heights.
    hand.typeNumber("shaped-steps", "2");
    std::set<int> different;
    for (const float h : heights()) different.insert(static_cast<int>(std::lround(h * 1000)));
    EXPECT_EQ(different.size(), 2u);
    hand.typeNumber("shaped-steps", "0");

    // Twice the range overshoots; the clip eats it and says how much.
    hand.typeNumber("shaped-inHigh", "0.5");
    EXPECT_NEAR(range(), 2, 1e-5);
    turn(hand, "shaped-clip");
    EXPECT_NEAR(range(), 1, 1e-5);
    auto* cut = hand.find<QLabel>("clipTold");
    ASSERT_NE(cut, nullptr);
    // Columns of ten at 0, 2/9, 4/9 … 2: above 1 are five of them.
    EXPECT_TRUE(cut->text().startsWith("The clip cuts 50 values, 50 %")) << cut->text().toStdString();
}

TEST(SettingsWindow, ElsewhereIsWhatHappensOutsideTheZone) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.typeNumber("positionAmount", "3", 1);
    const float home = places(hand, 1).front() - 3;
    hand.click("addZone-ball");
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    // Far from everything, so that all of the swarm is elsewhere.
    hand.window().document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, zone, "position", 0), 500, 0); });
    hand.settle();
    for (const float y : places(hand, 1)) ASSERT_EQ(y, home);
    turn(hand, "positionHasElsewhere");
    hand.typeNumber("positionElsewhere", "-2", 1);
    for (const float y : places(hand, 1)) ASSERT_NEAR(y, home - 2, 1e-5);
    turn(hand, "positionHasElsewhere");
    for (const float y : places(hand, 1)) ASSERT_EQ(y, home);
}

TEST(SettingsWindow, NumbersStockAndFormationsAreChosenFromTheirMenus) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    const auto box = [&](const QString& row) { return hand.find<QWidget>(row)->findChild<QComboBox*>(); };
    const auto entries = [&](const QString& row) {
        QStringList texts;
        for (int i = 0; i < box(row)->count(); ++i) texts << box(row)->itemText(i);
        return texts;
    };
    hand.addGesture("rise");
    const ObjectId rise = hand.window().document().chosen();
    hand.click("channel-value");
    EXPECT_EQ(box("valueOf")->currentText(), "amount");
    hand.choose("valueOf", "A new named value");
    const auto numbers = hand.scene().at(swarm).list("namedValues");
    ASSERT_EQ(numbers.size(), 2u);
    EXPECT_EQ(std::get<ObjectId>(valueNow(hand, "valueOf")), numbers[1]);
    hand.choose("valueOf", "amount");
    EXPECT_EQ(std::get<ObjectId>(valueNow(hand, "valueOf")), numbers[0]);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.key(Qt::Key_Z, Qt::ControlModifier);  // one step made the number and chose it
    EXPECT_EQ(hand.scene().at(swarm).list("namedValues").size(), 1u);

    hand.window().document().edit([&](const Scene& s) {
        const Edit ball = addShape(s, *findKind(Family::shape, "ball"));
        return addStock(ball.scene, swarm, ball.made);
    });
    hand.window().document().choose(rise);
    hand.settle();
    hand.click("channel-shape");
    hand.choose("shapeBy", "One of the stock");
    hand.choose("shapeEntry", "Ball");
    const auto shown = hand.result();
    ASSERT_EQ(shown->variants.size(), 2u);
    for (const std::uint16_t v : shown->columns->variant) ASSERT_EQ(v, 1);

    hand.addGesture("travel");
    EXPECT_EQ(entries("formation").size(), 2);  // the one that is on, and the dome that was made for it
    const Edit other = addSwarm(hand.scene());
    hand.window().document().edit([&](const Scene&) { return other; });
    hand.window().document().choose(hand.scene().named(ObjectType::gesture, "Travel"));
    hand.settle();
    ASSERT_EQ(entries("formation").size(), 3);
    EXPECT_TRUE(entries("formation")[2].startsWith(QString::fromStdString(hand.scene().at(other.made).name) + " · "));
    hand.choose("formation", entries("formation")[2]);
    EXPECT_EQ(std::get<ObjectId>(valueNow(hand, "formation")), hand.scene().at(other.made).list("formations").front());
}

TEST(SettingsWindow, AWheelPassesOverAChoiceAndChangesNothing) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("drift");
    const Scene before = hand.scene();
    auto* box = hand.find<QComboBox>("kind-pattern");
    ASSERT_NE(box, nullptr);
    for (const bool focused : {false, true}) {
        if (focused) box->setFocus();
        const QPointF at(box->width() / 2.0, box->height() / 2.0);
        QWheelEvent wheel(at, box->mapToGlobal(at), {}, QPoint(0, -120), Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(box, &wheel);
        EXPECT_FALSE(wheel.isAccepted());  // so the panel gets it
        EXPECT_EQ(box->hasFocus(), focused);
        EXPECT_EQ(box->currentText(), "Noise");
    }
    hand.settle();
    EXPECT_TRUE(hand.scene() == before);
}

TEST(SettingsWindow, TabTakesWhatIsTypedAndGoesToTheNextNumber) {
    Hand hand;
    hand.click("newSwarm");
    NumberField* first = hand.field("count", 0);
    ASSERT_NE(first, nullptr);
    first->setFocus();
    const auto typeThere = [](const char* text) {
        for (const char* c = text; *c; ++c) QTest::keyClick(QApplication::focusWidget(), *c);
    };
    typeThere("6");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    EXPECT_EQ(QApplication::focusWidget(), hand.field("count", 1));
    typeThere("2");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    typeThere("5");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Backtab);
    EXPECT_EQ(QApplication::focusWidget(), hand.field("count", 1));
    hand.settle();
    EXPECT_EQ(hand.result()->count, 60);
}

TEST(SettingsWindow, RowsMadeAnewKeepTheKeyboardAndOthersAreLeftAlone) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    QWidget* changes = section(hand, "What changes");
    ASSERT_NE(changes, nullptr);
    const auto rowsOf = [](QWidget* section) { return section->findChildren<NumberField*>(); };
    const auto before = rowsOf(changes);
    ASSERT_FALSE(before.empty());
    // Another kind of pattern has other rows; those of the other questions are the same widgets as before.
    hand.choose("kind-pattern", "Noise");
    hand.settle();
    EXPECT_EQ(section(hand, "What changes"), changes);
    EXPECT_EQ(rowsOf(changes), before);
    // A choice that brings other rows keeps the keyboard though all rows of its question are new.
    const auto follows = [&] { return hand.find<QWidget>("follow-driven"); };
    ASSERT_NE(follows(), nullptr);
    ASSERT_EQ(hand.find<QWidget>("follow-frequency"), nullptr);
    QWidget* old = follows();
    old->findChild<QComboBox*>()->setFocus();
    for (int step = 0; step < 5 && !hand.find<QWidget>("follow-frequency"); ++step) {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
        hand.settle();
        ASSERT_TRUE(follows()->isAncestorOf(QApplication::focusWidget())) << "the keyboard went elsewhere";
    }
    EXPECT_NE(hand.find<QWidget>("follow-frequency"), nullptr);
    EXPECT_NE(follows(), old) << "made anew";
}

TEST(SettingsWindow, ADoubleClickTakesHoldOfTheWholeNumber) {
    Hand hand;
    hand.click("newSwarm");
    NumberField* spacing = hand.field("spacing", 0);
    ASSERT_NE(spacing, nullptr);
    ASSERT_EQ(spacing->value(), 1.25);
    QTest::mouseClick(spacing, Qt::LeftButton, {}, QPoint(spacing->width() - 8, 12));
    auto* editor = spacing->findChild<QLineEdit*>();
    ASSERT_TRUE(editor->isVisible());
    QTest::mouseDClick(editor, Qt::LeftButton, {}, QPoint(editor->width() - 8, 12));
    QTest::keyClicks(editor, "4");
    QTest::keyClick(editor, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(spacing->value(), 4);
}

TEST(SettingsWindow, SectionsFoldStayFoldedAndSayTheirState) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    auto* driven = section(hand, "Driven by");
    ASSERT_NE(driven, nullptr);
    EXPECT_TRUE(driven->isOpen());
    EXPECT_TRUE(hand.find<QWidget>("pattern-form"));
    fold(hand, "Driven by");
    EXPECT_FALSE(section(hand, "Driven by")->isOpen());
    const auto summary = [&](const QString& title) {
        QString all;
        for (auto* label : section(hand, title)->findChildren<QLabel*>())
            if (label->isVisible()) all += label->text();
        return all;
    };
    EXPECT_EQ(summary("Driven by"), "Wave");
    // Another gesture: folded as well, with its own pattern.
    hand.addGesture("scatter");
    EXPECT_FALSE(section(hand, "Driven by")->isOpen());
    EXPECT_EQ(summary("Driven by"), "Random");
    fold(hand, "Driven by");
    EXPECT_TRUE(hand.find<QWidget>("pattern-seed"));
}

TEST(SettingsWindow, ASwitchThatBringsOtherRowsKeepsTheKeyboard) {
    Hand hand;
    hand.click("newSwarm");
    hand.window().document().choose(hand.scene().all(ObjectType::material).front());
    hand.settle();
    hand.find<ParameterRow>("coated")->findChild<Switch*>()->setFocus();
    for (const bool on : {true, false}) {
        hand.key(Qt::Key_Return);
        EXPECT_EQ(hand.find<ParameterRow>("coat") != nullptr, on);
        auto* box = hand.find<ParameterRow>("coated")->findChild<Switch*>();
        EXPECT_TRUE(box->hasFocus()) << on;
        EXPECT_EQ(box->isChecked(), on);
    }
}
