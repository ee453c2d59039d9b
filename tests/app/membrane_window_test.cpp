// Membranes as a person makes them, and how many actions that takes.
#include <gtest/gtest.h>

#include <QTest>

#include "app/fields/switch.h"
#include "app/picture/picture.h"
#include "core/flow/home_plan.h"
#include "core/flow/result.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// A hand whose actions are counted, as in the tests of ease: each click, choice, typed number or key is one.
struct Shaping : Hand {
    int actions = 0;

    void shape(const QString& id) {
        click("addThing");
        click("add-shape-" + id);
        actions += 2;
    }
    void choose(ObjectId id) { window().document().choose(id), settle(), ++actions; }
    void gesture(const QString& id) { addGesture(id), actions += 2; }
    void take(const QString& box, const QString& label) { Hand::choose(box, label), ++actions; }
    void type(const QString& row, const QString& text, int component = 0) { typeNumber(row, text, component), ++actions; }
    void toggle(const QString& row) {
        auto* on = find<QWidget>(row)->findChild<Switch*>();
        ASSERT_NE(on, nullptr);
        Hand::click(on, on->rect().center());
        ++actions;
    }
    ObjectId swarm(const char* name) { return scene().named(ObjectType::swarm, name); }
    std::shared_ptr<const Result> resultAt(double frame) {
        window().document().setFrame(frame);
        settle();
        return window().evaluation().resultOf(swarm("Corners"));
    }
    const Mesh& membraneAt(double frame) {
        const auto result = resultAt(frame);
        for (const Backdrop& backdrop : result->backdrops)
            if (scene().at(backdrop.shape).name == "Membrane") kept_ = backdrop.meshes;
        return kept_->mesh();
    }

  private:
    std::shared_ptr<const ShapeMeshes> kept_;
};

/// The farthest from the middle of a ball.
float farthest(const Mesh& mesh) {
    float most = 0;
    for (const glm::vec3& p : mesh.positions) most = std::max(most, glm::length(p));
    return most;
}

}  // namespace

TEST(MembraneWindow, ABallPushedOutByBeadsThatRingsAndIsColouredInFourteen) {
    Shaping hand;
    hand.shape("membrane");
    hand.choose(hand.swarm("Corners"));
    hand.gesture("pressOut");
    hand.gesture("smooth");
    hand.toggle("position");
    hand.type("reach", "0.3");
    hand.gesture("gild");
    hand.take("kind-pattern", "Named value");
    EXPECT_LE(hand.actions, 14);
    ASSERT_TRUE(hand.scene().find(hand.swarm("Beads")));
    // Before, it is the ball; then it swings past where it settles.
    EXPECT_NEAR(farthest(hand.membraneAt(0)), 1.5, 1e-2);
    float most = 0;
    for (int frame = 5; frame < 60; frame += 5) most = std::max(most, farthest(hand.membraneAt(frame)));
    const float rest = farthest(hand.membraneAt(124));
    EXPECT_GT(rest, 1.55f);
    EXPECT_GT(most, rest + 0.02f);
    // What came far has another colour than what stayed.
    const Mesh& mesh = hand.membraneAt(124);
    ASSERT_EQ(mesh.colours.size(), mesh.positions.size());
    glm::vec4 low = mesh.colours[0], high = low;
    for (const glm::vec4& colour : mesh.colours) low = glm::min(low, colour), high = glm::max(high, colour);
    EXPECT_GT(high.r - low.r, 0.1f);
    // One undo for each of what was done.
    for (int k = 0; k < 12; ++k) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.scene().all(ObjectType::swarm).empty());
}

TEST(MembraneWindow, APlaneDisplacedByItsDistanceToACurveInTen) {
    Shaping hand;
    hand.shape("membrane");
    // What it stands on becomes a plane.
    hand.choose(hand.scene().named(ObjectType::shape, "Ground"));
    hand.take("kind-maker", "Card");
    hand.choose(hand.swarm("Corners"));
    hand.gesture("ripple");
    hand.gesture("smooth");
    hand.toggle("position");
    EXPECT_LE(hand.actions, 10);
    const Mesh& mesh = hand.membraneAt(0);
    EXPECT_EQ(mesh.positions.size(), 81u * 81u);
    float low = 1e9f, high = -1e9f;
    for (const glm::vec3& p : mesh.positions) low = std::min(low, p.y), high = std::max(high, p.y);
    EXPECT_GT(high - low, 0.2f);
}
