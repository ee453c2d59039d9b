// Standing along curves in the real window: a swarm of curves is clicked, numbers begin anew, and the curve is a named value.
#include <gtest/gtest.h>

#include <QPushButton>

#include "app/scene/scene_list.h"
#include "core/flow/home_plan.h"
#include "core/flow/result.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

TEST(CurveWindow, BeadsStandOnAllStrandsOfASwarm) {
    Hand hand;
    // Strands: a grid of helices.
    hand.click("newSwarm");
    const ObjectId strands = hand.window().document().swarm();
    hand.click(hand.card("Stock"), QPoint(40, 30));
    hand.choose("kind-maker", "Helix");
    hand.click(hand.card("Formation"), QPoint(40, 30));
    for (int c = 0; c < 3; ++c) hand.typeNumber("count", c == 0 ? "3" : "1", c);
    hand.typeNumber("spacing", "4", 0);
    // Beads on them.
    hand.click("addThing");
    hand.click("add-swarm");
    const ObjectId beads = hand.window().document().swarm();
    ASSERT_NE(beads, strands);
    hand.click(hand.card("Formation"), QPoint(40, 30));
    hand.pickFormation("alongCurve");
    auto* slot = hand.find<QWidget>("shape")->findChild<QPushButton*>();
    hand.click(slot, slot->rect().center());
    ASSERT_TRUE(hand.window().document().picking());
    auto* list = hand.find<SceneList>("sceneList");
    hand.click(list->viewport(), list->visualItemRect(list->itemOf(strands)).center());
    EXPECT_FALSE(hand.window().document().picking());
    hand.typeNumber("count", "10");
    EXPECT_EQ(hand.result()->count, 30);
    EXPECT_EQ(slot->text(), QString::fromStdString(hand.scene().at(strands).name));
    // Whether numbers run on, and where the curve's number goes.
    hand.choose("numbers", "Begin anew");
    EXPECT_EQ(hand.result()->home.orderOf(29), 9);
    hand.choose("curveNumber", "A new named value");
    const auto& values = hand.scene().at(beads).list("namedValues");
    ASSERT_EQ(values.size(), 1u);
    EXPECT_EQ(hand.scene().at(values.front()).name, "curve");
    EXPECT_EQ(referenceOf(hand.scene().at(hand.scene().at(beads).list("formations").front()).part("formation"), "curveNumber"),
              values.front());
    // One undo each.
    for (int k = 0; k < 2; ++k) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.scene().at(beads).list("namedValues").empty());
    EXPECT_EQ(hand.result()->home.orderOf(29), 29);
}
