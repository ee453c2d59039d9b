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

namespace {

const QString demo = GSWARM_SOURCE "/demo/tidal-floor.gswarm";

}  // namespace

TEST(Finder, ChoosesAndDoes) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(demo));
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
