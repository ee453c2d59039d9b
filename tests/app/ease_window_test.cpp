// How many actions things take: each click on the window, choice, typed number, dropped drag or key counts as one.
#include <gtest/gtest.h>

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/picture/hit.h"
#include "app/picture/picture.h"
#include "app/rail/rail_card.h"
#include "core/edit/key_edits.h"
#include "core/edit/timing_edits.h"
#include "core/explain/loop_check.h"
#include "core/flow/home_plan.h"
#include "core/formation/formation_kind.h"
#include "core/read/table.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// A hand whose actions are counted.
struct Counted : Hand {
    int actions = 0;

    void press(const QString& name) { click(name), ++actions; }
    void take(const QString& box, const QString& label) { choose(box, label), ++actions; }
    void type(const QString& row, const QString& text, int component = 0) { typeNumber(row, text, component), ++actions; }
    /// The (+) and the picture in its gallery.
    void gesture(const QString& id) { addGesture(id), actions += 2; }
    void formation(const QString& id) { pickFormation(id), actions += 2; }
    void toFrame(double frame) { window().document().setFrame(frame), settle(), ++actions; }  // a click in the ruler
    void keyed(const QString& row, int component = 0) {
        field(row, component)->setFocus();
        key(Qt::Key_K);
        ++actions;
    }
    void write(const QString& name, const QString& text) {
        auto* field = find<QPlainTextEdit>(name);
        EXPECT_NE(field, nullptr) << name.toStdString();
        field->setFocus();
        QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(field, text);
        settle();
        ++actions;
    }
    /// A click on Why? in a card, and on the mend that is offered.
    void why(const QString& name, const QString& mend) {
        auto* card = static_cast<RailCard*>(this->card(name));
        EXPECT_TRUE(eventually([&] { return card->state().button == "Why?"; }));
        answerMenu(mend);
        click(card, QPoint(card->width() - 22, card->height() - 12));
        actions += 2;
    }
    /// A click on an instance in the picture. Returns the row of what was hit.
    int clickInstance(int row) {
        Picture& picture = window().picture();
        const QPolygonF outline = hit::outlinesOf(*result(), static_cast<std::uint32_t>(row), picture.view(), picture.size()).front();
        click(&picture, outline.boundingRect().center().toPoint());
        ++actions;
        const auto& chosen = window().document().session().instances().ids;
        EXPECT_EQ(chosen.size(), 1u);
        return static_cast<int>(rowsOfIds(result()->home, chosen).front());
    }
    std::shared_ptr<const Result> result() { return window().evaluation().resultOf(window().document().swarm()); }
    ObjectId last(ObjectType type) {
        ObjectId newest;
        for (const ObjectId id : scene().order)
            if (id.type() == type) newest = id;
        return newest;
    }
};

}  // namespace

TEST(Ease, FourHundredBoxesOnADomeGrowFromTheBaseInFourteen) {
    Counted hand;
    hand.press("newSwarm");
    hand.formation("goldenSpiral");
    hand.take("onto", "Dome");
    hand.type("count", "400");
    hand.gesture("randomSize");
    hand.gesture("grow");
    hand.take("when-by", "Along an axis");
    hand.take("when-axis", "Y");
    hand.type("timing-done", "2s");
    hand.gesture("gild");
    EXPECT_LE(hand.actions, 14);
    EXPECT_EQ(hand.result()->count, 400);
    const ObjectId grow = hand.scene().named(ObjectType::gesture, "Grow");
    EXPECT_EQ(timingOf(hand.scene(), grow, 0)->done(), 50);
    hand.window().document().setFrame(0);
    hand.settle();
    const int begun = hand.result()->visible;
    hand.window().document().setFrame(25);
    hand.settle();
    const int half = hand.result()->visible;
    hand.window().document().setFrame(50);
    hand.settle();
    EXPECT_LT(begun, half);
    EXPECT_LT(half, 400);
    EXPECT_EQ(hand.result()->visible, 400);
}

TEST(Ease, ABallThatLiftsTilesAndLingersInEleven) {
    Counted hand;
    hand.press("newSwarm");
    hand.gesture("rise");
    hand.press("addZone-ball");
    const ObjectId zone = hand.last(ObjectType::zone);
    hand.window().document().choose(zone);
    ++hand.actions;
    hand.settle();
    hand.type("position", "-8");
    hand.keyed("position");
    hand.toFrame(100);
    hand.type("position", "8");
    hand.window().document().choose(hand.last(ObjectType::gesture));
    ++hand.actions;
    hand.settle();
    hand.take("follow-weight", "Lingers");
    EXPECT_LE(hand.actions, 11);
    hand.window().document().setFrame(60);
    hand.settle();
    const int now = hand.result()->cards[0].touched;
    hand.window().document().edit(
        [&](const Scene& s) { return setValue(s, addressOf(s, hand.last(ObjectType::gesture), "follow-weight"), std::string("none")); });
    hand.settle();
    EXPECT_GT(now, hand.result()->cards[0].touched) << "what the ball has left still lingers";
}

TEST(Ease, WhatAZoneStirsGlowsAndComesHomeInThirteen) {
    Counted hand;
    hand.press("newSwarm");
    hand.take("kind-maker", "Ball");
    hand.gesture("stir");
    hand.press("addZone-ball");
    const ObjectId zone = hand.last(ObjectType::zone);
    // The new zone lies open under Where.
    hand.type("position", "-12");
    hand.keyed("position");
    hand.toFrame(50);
    hand.type("position", "12");
    hand.gesture("tint");
    QWidget* tint = hand.card("Tint");
    EXPECT_TRUE(hand.drop({zone}, tint, {tint->width() / 2.0, 8}));
    ++hand.actions;
    hand.take("follow-weight", "Lingers");
    EXPECT_LE(hand.actions, 13);
    hand.window().document().setFrame(0);
    hand.settle();
    const std::vector<float> first(hand.result()->columns->matrix.begin(), hand.result()->columns->matrix.end());
    const auto awayAt = [&](double frame) {
        hand.window().document().setFrame(frame);
        hand.settle();
        const auto result = hand.result();
        float most = 0;
        for (int i = 0; i < result->count; ++i)
            for (const std::size_t at : {std::size_t{3}, std::size_t{7}, std::size_t{11}})
                most = std::max(most, std::abs(result->columns->matrix[12 * static_cast<std::size_t>(i) + at] -
                                               first[12 * static_cast<std::size_t>(i) + at]));
        return most;
    };
    EXPECT_GT(awayAt(40), 0.05f) << "they stir";
    EXPECT_GT(hand.result()->cards[1].touched, 20) << "and glow where it went";
    const std::vector<float> played(hand.result()->columns->matrix.begin(), hand.result()->columns->matrix.end());
    EXPECT_LT(awayAt(124), 0.01f) << "and come home";
    // Scrubbed back, and by an evaluator of its own: the same bits.
    awayAt(40);
    EXPECT_TRUE(std::equal(played.begin(), played.end(), hand.result()->columns->matrix.begin()));
    Evaluator other(1);
    Progress progress;
    const auto again = other.evaluate(hand.scene(), hand.window().document().swarm(), 40, {}, progress);
    EXPECT_TRUE(std::equal(played.begin(), played.end(), again->columns->matrix.begin()));
}

TEST(Ease, OneZoneCutsAnotherAndIsKeyedInEight) {
    Counted hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.press("addZone-ball");
    hand.press("addZone-box");
    const ObjectId box = hand.last(ObjectType::zone);
    hand.window().document().choose(box);
    ++hand.actions;
    hand.settle();
    hand.type("position", "-4");
    hand.keyed("position");
    hand.toFrame(50);
    hand.type("position", "4");
    EXPECT_LE(hand.actions, 8);
    EXPECT_EQ(trackAt(hand.scene(), addressOf(hand.scene(), box, "position", 0)).keys->size(), 2u);
    const ObjectId gesture = hand.last(ObjectType::gesture);
    const auto& weave = hand.scene().at(gesture).list("weave");
    ASSERT_EQ(weave.size(), 2u);
    EXPECT_EQ(choiceOf(hand.scene().at(weave[1]).part("entry"), "operation"), "cut");
}

TEST(Ease, ADriftingNoiseThatLoopsExactlyInTwo) {
    Counted hand;
    hand.click("newSwarm");
    hand.gesture("drift");
    EXPECT_LE(hand.actions, 2);
    Progress progress;
    const LoopCheck check = checkLoop(hand.scene(), {}, hand.window().evaluation().evaluator(), progress);
    EXPECT_TRUE(check.closed) << check.swarms[0].told;
    EXPECT_LT(check.swarms[0].seam.position, 1e-4 * check.swarms[0].size);
}

TEST(Ease, OneHeroLargerAsTheRestGetSmallerInFive) {
    Counted hand;
    hand.press("newSwarm");
    const int wanted = hand.clickInstance(44);
    hand.gesture("hero");
    EXPECT_LE(hand.actions, 5);
    ASSERT_EQ(hand.result()->count, 100);
    for (int row = 0; row < 100; ++row)
        EXPECT_NEAR(hand.result()->columns->matrix[12 * static_cast<std::size_t>(row)], row == wanted ? 2 : 0.7, 1e-6) << row;
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.scene().all(ObjectType::zone).empty()) << "gesture and zone are one step";
    EXPECT_TRUE(hand.scene().all(ObjectType::gesture).empty());
}

TEST(Ease, AWordFilledWithCellsAndAnExactGapInSeven) {
    Counted hand;
    hand.press("newSwarm");
    hand.formation("cells");
    hand.take("kind-maker", "Lettering");
    hand.write("lines", "AQUA");
    hand.type("spacing", "0.1");
    hand.type("stock-rule-gap", "4");
    EXPECT_LE(hand.actions, 7);
    const ObjectId ground = hand.scene().named(ObjectType::shape, "Ground");
    EXPECT_EQ(choiceOf(hand.scene().at(ground).part("maker"), "text"), "AQUA");
    const auto result = hand.result();
    ASSERT_GT(result->count, 100);
    // Boxes of 1 m sized so that 4 % of a cell of 0.1 m stays free.
    for (const int row : {0, result->count / 2, result->count - 1})
        EXPECT_NEAR(result->columns->matrix[12 * static_cast<std::size_t>(row)], 0.1 * 0.96, 1e-5);
}

TEST(Ease, TheSameRailOnAHeavierLayoutInTwo) {
    Counted hand;
    hand.click("newSwarm");
    hand.addGesture("drift");
    hand.addGesture("gild");
    hand.window().document().choose(hand.window().document().swarm());
    hand.settle();
    hand.press("addVersion");
    hand.type("count", "60");
    EXPECT_LE(hand.actions, 2);
    EXPECT_EQ(hand.result()->count, 600);
    EXPECT_EQ(hand.result()->cards[0].touched, 600);
    hand.click("version-1");
    EXPECT_EQ(hand.result()->count, 100);
    EXPECT_EQ(hand.result()->cards.size(), 2u);
}

TEST(Ease, WhyAGestureDoesNothingInTwo) {
    Counted hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.typeNumber("strength", "0");
    hand.why("Rise", "Set it to 100 %");
    EXPECT_LE(hand.actions, 2);
    EXPECT_EQ(hand.result()->cards[0].touched, hand.result()->count);
}
