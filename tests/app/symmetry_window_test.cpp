// Symmetries as the last cards of the rail.
#include <gtest/gtest.h>

#include <QLabel>
#include <QTableView>
#include <QTest>

#include "app/fields/switch.h"
#include "app/picture/handles.h"
#include "app/picture/picture.h"
#include "app/rail/rail_card.h"
#include "core/flow/extent.h"
#include "core/flow/home_plan.h"
#include "core/flow/result.h"
#include "core/picture/draw_list.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Repeating : Hand {
    void symmetry(const QString& id) {
        click("addGesture");
        click("symmetry-" + id);
        settle();
    }
    const std::vector<ObjectId>& symmetries() { return scene().at(window().document().swarm()).list("symmetries"); }
    std::string name(std::size_t k) { return scene().at(symmetries()[k]).name; }
    QString countOn(const QString& name) { return static_cast<RailCard*>(card(name))->state().count; }
};

}  // namespace

TEST(SymmetryWindow, AMirrorStandsAtTheEdgeAndItsCardTellsTheCopies) {
    Repeating hand;
    hand.click("newSwarm");
    const int before = hand.result()->visible;
    const Bounds one = extentOf(*hand.result());
    hand.symmetry("mirrored");
    ASSERT_EQ(hand.symmetries().size(), 1u);
    EXPECT_EQ(hand.window().document().chosen(), hand.symmetries().front());
    EXPECT_EQ(hand.countOn("Mirrored"), "× 2");
    EXPECT_TRUE(hand.countOn("Result").startsWith(QString::number(before) + " × 2 shown")) << hand.countOn("Result").toStdString();
    // Side by side: twice as wide, and no copy on the original.
    const Bounds both = extentOf(*hand.result());
    EXPECT_NEAR(both.size().x, 2 * one.size().x, 0.002f * one.size().x);
    EXPECT_FALSE(static_cast<RailCard*>(hand.card("Mirrored"))->state().strength.has_value());
    // Off by the card's switch, and on again by undo.
    auto* card = static_cast<RailCard*>(hand.card("Mirrored"));
    card->setFocus();
    QTest::keyClick(card, Qt::Key_O);
    hand.settle();
    EXPECT_EQ(hand.countOn("Mirrored"), "off");
    EXPECT_EQ(hand.result()->copies.size(), 1u);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.settle();
    EXPECT_EQ(hand.result()->copies.size(), 2u);
}

TEST(SymmetryWindow, NumbersAreTypedAndCardsMoveAndGo) {
    Repeating hand;
    hand.click("newSwarm");
    hand.symmetry("mirrored");
    hand.symmetry("turned");
    hand.typeNumber("times", "5");
    hand.typeNumber("centre", "0", 0);
    hand.settle();
    EXPECT_EQ(hand.result()->copies.size(), 10u);
    EXPECT_EQ(hand.name(0), "Mirrored");
    QWidget* turned = hand.card("Turned");
    turned->setFocus();
    QTest::keyClick(turned, Qt::Key_Left, Qt::AltModifier);
    hand.settle();
    EXPECT_EQ(hand.name(0), "Turned");
    Hand::answerMenu("Duplicate");
    QTest::keyClick(hand.card("Turned"), Qt::Key_Menu);
    hand.settle();
    ASSERT_EQ(hand.symmetries().size(), 3u);
    // The same turns once more fall on the first ones.
    EXPECT_EQ(hand.name(1), "Turned 2");
    EXPECT_EQ(hand.result()->copies.size(), 10u);
    Hand::answerMenu("Delete");
    QTest::keyClick(hand.card("Turned 2"), Qt::Key_Menu);
    hand.settle();
    EXPECT_EQ(hand.symmetries().size(), 2u);
}

TEST(SymmetryWindow, AClickOnACopySelectsItsOriginal) {
    Repeating hand;
    hand.click("newSwarm");
    hand.symmetry("mirrored");
    hand.key(Qt::Key_F);
    hand.settle();
    const auto result = hand.result();
    Picture& picture = hand.window().picture();
    // Of the mirrored ones the nearest to the eye: nothing covers it.
    const glm::vec3 eye = picture.view().camera().position;
    std::uint32_t nearest = 0;
    glm::vec3 place(1e9f);
    for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(result->count); ++row) {
        const float* m = &result->columns->matrix[12 * std::size_t{row}];
        const glm::vec3 copy(standOf(*result, 1) * glm::vec4(m[3], m[7], m[11], 1));
        if (result->columns->variant[row] != notShown && glm::distance(copy, eye) < glm::distance(place, eye)) nearest = row, place = copy;
    }
    const auto at = picture.view().project(place, picture.size());
    ASSERT_TRUE(at.has_value());
    hand.click(&picture, at->toPoint());
    const auto& chosen = hand.window().document().session().instances().ids;
    EXPECT_EQ(rowsOfIds(result->home, chosen), std::vector<std::uint32_t>{nearest});
}

TEST(SymmetryWindow, ItsPlaneIsMovedInTheView) {
    Repeating hand;
    hand.click("newSwarm");
    hand.symmetry("mirrored");
    hand.key(Qt::Key_F);
    hand.settle();
    Document& document = hand.window().document();
    ASSERT_EQ(document.handled(), hand.symmetries().front());
    Picture& picture = hand.window().picture();
    const auto centre = [&] {
        const Part& part = hand.scene().at(document.handled()).part("symmetry");
        return glm::vec3(numberAt(hand.scene(), part, "centre", 0, 0), numberAt(hand.scene(), part, "centre", 0, 1),
                         numberAt(hand.scene(), part, "centre", 0, 2));
    };
    const glm::vec3 before = centre();
    const auto from = picture.view().project(before, picture.size());
    ASSERT_TRUE(from.has_value());
    hand.drag(&picture, *from, {40, -25});
    EXPECT_GT(glm::distance(centre(), before), 0.05f);
    // It lies where it was let go.
    const auto at = picture.view().project(centre(), picture.size());
    ASSERT_TRUE(at.has_value());
    EXPECT_NEAR(at->x(), from->x() + 40, 2);
    EXPECT_NEAR(at->y(), from->y() - 25, 2);
    // Its plane lies through it.
    const auto lines = handles::symmetryLines(hand.scene(), document.handled(), 0, 1, document.store());
    ASSERT_EQ(lines.size(), 1u);
    for (const glm::vec3& p : lines[0]) EXPECT_NEAR(p.x, centre().x, 1e-4f);
}

TEST(SymmetryWindow, TheLedgerListsCopiesWhenAsked) {
    Repeating hand;
    hand.click("newSwarm");
    hand.symmetry("turned");
    hand.typeNumber("times", "3");
    hand.key(Qt::Key_L);
    const int count = hand.result()->count;
    auto* told = hand.find<QLabel>("ledgerCount");
    ASSERT_TRUE(hand.eventually([&] { return told->text().endsWith("× 3"); })) << told->text().toStdString();
    Hand::answerMenu("List copies by symmetry");
    hand.click("ledgerColumns");
    auto* table = hand.find<QTableView>("ledgerTable");
    EXPECT_TRUE(hand.eventually([&] { return table->model()->rowCount() == 3 * count; }));
    // Sorted by number each stands behind its original.
    int column = -1;
    for (int c = 0; c < table->model()->columnCount(); ++c)
        if (table->model()->headerData(c, Qt::Horizontal).toString() == "Copy") column = c;
    ASSERT_GE(column, 0);
    EXPECT_EQ(table->model()->index(0, column).data().toString(), "original");
    EXPECT_EQ(table->model()->index(1, column).data().toString(), "1");
    EXPECT_EQ(table->model()->index(3, column).data().toString(), "original");
}
