// Swarms that repeat swarms, as a person makes them and goes in and out.
#include <gtest/gtest.h>

#include <QAction>
#include <QTest>
#include <QToolButton>
#include <set>

#include "app/picture/picture.h"
#include "core/flow/home_plan.h"
#include "core/flow/result.h"
#include "core/flow/tree.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Nesting : Hand {
    /// A swarm, and one that repeats it, by the menu of the list.
    void repeat() {
        click("newSwarm");
        inner = window().document().swarm();
        answerMenu("Repeat it by a swarm of its own");
        auto& picture = window().picture();
        Hand::click(static_cast<QWidget*>(&picture), pixelOf(*result(), 0).toPoint(), Qt::RightButton);
        settle();
        outer = window().document().swarm();
    }
    QPointF pixelOf(const Result& of, std::uint32_t row) {
        auto& picture = window().picture();
        const auto& variant = of.variants[of.columns->variant[row]];
        const glm::vec4 middle = matrixOf(of, row) * glm::vec4(variant.meshes->bounds.centre(), 1);
        return *picture.view().project(of.pose.toWorld(glm::vec3(middle)), picture.size());
    }
    ObjectId inner, outer;
};

}  // namespace

TEST(NestedWindow, ARightClickRepeatsASwarmAndHidesIt) {
    Nesting hand;
    hand.repeat();
    ASSERT_NE(hand.outer, hand.inner);
    EXPECT_FALSE(switchAt(hand.scene(), hand.scene().at(hand.inner).part("place"), "shown", 0));
    EXPECT_TRUE(hand.line().contains("own switch is off")) << hand.line().toStdString();
    const auto result = hand.result();
    EXPECT_EQ(result->leaves, static_cast<std::uint64_t>(result->count) * 100);
    // One undo takes all of it back.
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.settle();
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 1u);
    EXPECT_TRUE(switchAt(hand.scene(), hand.scene().at(hand.inner).part("place"), "shown", 0));
}

TEST(NestedWindow, ADoubleClickGoesInsideAndEscapeComesOut) {
    Nesting hand;
    hand.repeat();
    auto* out = hand.window().findChild<QToolButton*>("railOut");
    ASSERT_NE(out, nullptr);
    EXPECT_FALSE(out->isVisible());
    auto& picture = hand.window().picture();
    hand.key(Qt::Key_F);
    hand.settle();
    // Onto a leaf of a copy: between them there is nothing to be met.
    const auto result = hand.result();
    const Result& inside = *result->variants[0].inner;
    const std::uint32_t row = static_cast<std::uint32_t>(result->count) - 1;
    const glm::vec4 leaf = matrixOf(*result, row) * matrixOf(inside, 99) * glm::vec4(inside.variants[0].meshes->bounds.centre(), 1);
    const QPoint at = picture.view().project(result->pose.toWorld(glm::vec3(leaf)), picture.size())->toPoint();
    QTest::mouseClick(&picture, Qt::LeftButton, {}, at);
    hand.settle();
    EXPECT_EQ(hand.window().document().swarm(), hand.outer);
    ASSERT_EQ(hand.window().document().session().instances().ids.size(), 1u);
    QTest::mouseDClick(&picture, Qt::LeftButton, {}, at);
    hand.settle();
    EXPECT_EQ(hand.window().document().swarm(), hand.inner);
    EXPECT_TRUE(out->isVisible());
    EXPECT_TRUE(out->text().startsWith("in " + QString::fromStdString(hand.scene().at(hand.outer).name))) << out->text().toStdString();
    // What is edited inside is seen in every copy.
    const auto before = hand.window().evaluation().resultOf(hand.outer)->leaves;
    hand.typeNumber("count", "5", 0);
    hand.settle();
    EXPECT_EQ(hand.window().evaluation().resultOf(hand.outer)->leaves, before / 2);
    picture.setFocus();
    hand.key(Qt::Key_Escape);
    hand.settle();
    EXPECT_EQ(hand.window().document().swarm(), hand.outer);
    EXPECT_FALSE(out->isVisible());
}

TEST(NestedWindow, CopiesAtTheirOwnMomentsByTheGallery) {
    Nesting hand;
    hand.repeat();
    // The inner one breathes; each copy a little later than the one before.
    hand.window().document().choose(hand.inner);
    hand.settle();
    hand.addGesture("drift");
    hand.window().document().choose(hand.outer);
    hand.settle();
    hand.addGesture("moments");
    const auto result = hand.result();
    std::set<const Result*> moments;
    for (const std::uint16_t v : result->columns->variant) moments.insert(result->variants[v].inner.get());
    EXPECT_GT(moments.size(), 5u);
}

TEST(NestedWindow, JoinedTakesThePlaceOfTheSwarm) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    const auto leaves = hand.result()->leaves;
    hand.click("addThing");
    hand.click("add-shape-joined");
    hand.settle();
    const auto result = hand.window().evaluation().resultOf(swarm);
    ASSERT_EQ(result->backdrops.size(), 1u);
    EXPECT_FALSE(result->shown);
    EXPECT_EQ(result->backdrops[0].meshes->mesh().positions.size(), leaves * result->variants[0].meshes->mesh().positions.size());
    EXPECT_TRUE(hand.line().contains("own switch is off")) << hand.line().toStdString();
}

TEST(NestedWindow, LightStockIsSwitchedForAllAtOnce) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm(), entry = hand.scene().at(swarm).list("stock").front();
    const ObjectId real = referenceOf(hand.scene().at(entry).part("entry"), "shape");
    hand.click("addThing");
    hand.click("add-shape-ball");
    const ObjectId ball = hand.window().document().chosen();
    hand.window().document().setValue(addressOf(hand.scene(), entry, "standIn"), ball);
    hand.window().document().choose(swarm);
    hand.settle();
    EXPECT_EQ(hand.result()->variants[0].shape, real);
    Hand::answerMenu("Light stand-ins of stock");
    hand.click("view-rehearsal");
    hand.settle();
    EXPECT_EQ(hand.result()->variants[0].shape, ball);
    EXPECT_EQ(hand.find<QToolButton>("view-rehearsal")->text(), "light");
    hand.click("workOnAll");
    hand.settle();
    EXPECT_EQ(hand.result()->variants[0].shape, real);
}
