// Find or do anything, by the keyboard.
#include <gtest/gtest.h>

#include <QLineEdit>
#include <QListWidget>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/settings/section.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {}  // namespace

TEST(Finder, ChoosesAndDoes) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    hand.click("find");
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    QTest::keyClicks(line, "swell");
    QTest::keyClick(line, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(hand.window().document().chosen(), hand.scene().named(ObjectType::zone, "Swell"));
    hand.click("find");
    QTest::keyClicks(line, "new swarm");
    QTest::keyClick(line, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u);
}

TEST(Finder, AddsGesturesZonesAndFormationsAndReachesNumbers) {
    Hand hand;
    hand.click("newSwarm");
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    auto* list = line->parentWidget()->findChild<QListWidget*>();
    const auto find = [&](const QString& words) {
        hand.click("find");
        QTest::keyClicks(line, words);
    };
    const auto take = [&] {
        QTest::keyClick(line, Qt::Key_Return);
        hand.settle();
    };
    find("drift");
    take();
    const ObjectId drift = hand.scene().named(ObjectType::gesture, "Drift");
    ASSERT_TRUE(drift);
    EXPECT_EQ(hand.window().document().chosen(), drift);
    find("zone tube");
    take();
    ASSERT_EQ(hand.scene().at(drift).list("weave").size(), 1u);
    EXPECT_EQ(hand.scene().at(hand.scene().all(ObjectType::zone).front()).part("form").kind->id, "tube");
    // A number in a folded section is unfolded and has the keyboard.
    hand.find<Section>("section-Driven by")->setOpen(false);
    hand.settle();
    find("octaves");
    take();
    NumberField* octaves = hand.field("pattern-octaves");
    ASSERT_NE(octaves, nullptr);
    EXPECT_TRUE(octaves->isVisible());
    EXPECT_TRUE(octaves->hasFocus());
    find("formation hexa");
    take();
    const ObjectId formation = hand.scene().at(hand.window().document().swarm()).list("formations").front();
    EXPECT_EQ(hand.scene().at(formation).part("formation").kind->id, "hexagons");
    // What begins like the words comes first; what there is not is said, and Enter does nothing then.
    find("re");
    EXPECT_TRUE(list->item(0)->text().startsWith("Re")) << list->item(0)->text().toStdString();
    QTest::keyClicks(line, "zzz");
    ASSERT_EQ(list->count(), 1);
    EXPECT_EQ(list->item(0)->text(), "Nothing here is called that.");
    const Scene before = hand.scene();
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_TRUE(line->isVisible());
    QTest::keyClick(line, Qt::Key_Escape);
    hand.settle();
    EXPECT_TRUE(hand.scene() == before);
}

TEST(Finder, PlainTradeWordsFindWhatTheyMean) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    auto* list = line->parentWidget()->findChild<QListWidget*>();
    const auto found = [&](const QString& words) {
        hand.click("find");
        QTest::keyClicks(line, words);
        QStringList labels;
        for (int k = 0; k < list->count(); ++k) labels << list->item(k)->text() + " | " + list->item(k)->data(Qt::UserRole + 1).toString();
        line->window()->hide();
        return labels;
    };
    const auto holds = [&](const QString& words, const QString& label, const QString& hint) {
        for (const QString& one : found(words))
            if (one.startsWith(label) && one.contains(hint)) return true;
        return false;
    };
    EXPECT_TRUE(holds("sphere", "Ball", "shape"));
    EXPECT_TRUE(holds("sphere", "Geodesic ball", "shape"));
    EXPECT_TRUE(holds("sphere", "Ball", "zone"));
    EXPECT_TRUE(holds("noise", "Noise", "pattern"));
    EXPECT_TRUE(holds("noise", "Noise", "zone"));
    EXPECT_TRUE(holds("noise", "Drift", "gesture"));
    EXPECT_TRUE(holds("null", "Add a mount", ""));
    EXPECT_TRUE(holds("keyframe", "Record keys", ""));
    EXPECT_TRUE(holds("selection", "Select all instances", ""));
    EXPECT_TRUE(holds("falloff", "Ball", "zone"));
    EXPECT_TRUE(holds("onion skin", "Ghosts", ""));
    EXPECT_TRUE(holds("render", "Picture (PNG)", "export"));
    EXPECT_TRUE(holds("fps", "Settings of the project", ""));
    EXPECT_TRUE(holds("scatter", "Scatter", "gesture"));
    EXPECT_TRUE(holds("scatter", "Random on a mesh", "formation"));
    EXPECT_TRUE(holds("clone", "New swarm", ""));
    EXPECT_TRUE(found("scatter").front().startsWith("Scatter")) << "what begins like the word comes first";
    EXPECT_TRUE(holds("strength", "Strength", "100")) << "settings with their values";
}

TEST(Finder, WhatWasDoneLastComesFirstAmongEquals) {
    Hand hand;
    hand.click("newSwarm");
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    auto* list = line->parentWidget()->findChild<QListWidget*>();
    const auto ask = [&](const QString& words) {
        hand.click("find");
        QTest::keyClicks(line, words);
    };
    ask("sphere");
    ASSERT_GE(list->count(), 2);
    const QString second = list->item(1)->text();
    QTest::keyClick(line, Qt::Key_Down);
    QTest::keyClick(line, Qt::Key_Return);
    hand.settle();
    ask("sphere");
    EXPECT_EQ(list->item(0)->text(), second);
    line->window()->hide();
}

TEST(Ease, FindsAndAddsNoiseToASwarmInThree) {
    Hand hand;
    hand.click("newSwarm");
    int actions = 0;
    hand.click("find"), ++actions;
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    QTest::keyClicks(line, "noise"), ++actions;
    QTest::keyClick(line, Qt::Key_Return), ++actions;
    hand.settle();
    EXPECT_LE(actions, 3);
    const auto gestures = hand.scene().all(ObjectType::gesture);
    ASSERT_EQ(gestures.size(), 1u);
    EXPECT_EQ(hand.scene().at(gestures.front()).part("pattern").kind->id, "noise");
    const auto result = hand.window().evaluation().resultOf(hand.window().document().swarm());
    EXPECT_EQ(result->cards.at(0).touched, result->count);
}
