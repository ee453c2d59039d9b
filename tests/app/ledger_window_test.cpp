// The ledger in the real window: gestures built by mouse and keyboard and read through it, sorting, filtering, choosing.
#include <gtest/gtest.h>

#include <cmath>
#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QLabel>
#include <QPlainTextEdit>
#include <QTableView>
#include <QTest>

#include "app/ledger/ledger_model.h"
#include "app/ledger/ledger_panel.h"
#include "app/picture/picture.h"
#include "core/flow/home_plan.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

LedgerPanel* openLedger(Hand& hand) {
    hand.key(Qt::Key_L);
    return hand.find<LedgerPanel>("ledger");
}

/// What a cell of the ledger says, by the label of its column.
QString cell(LedgerPanel* ledger, int row, const QString& column) {
    const auto* model = ledger->table().model();
    for (int c = 0; c < model->columnCount(); ++c)
        if (model->headerData(c, Qt::Horizontal).toString().startsWith(column)) return model->index(row, c).data().toString();
    return "no such column";
}

void clickHeader(Hand& hand, LedgerPanel* ledger, const QString& column) {
    auto* header = ledger->table().horizontalHeader();
    for (int c = 0; c < ledger->table().model()->columnCount(); ++c)
        if (ledger->table().model()->headerData(c, Qt::Horizontal).toString().startsWith(column)) {
            ledger->table().scrollTo(ledger->table().model()->index(0, c));
            hand.click(header->viewport(), QPoint(header->sectionViewportPosition(c) + 20, 10));
            return;
        }
    FAIL() << column.toStdString();
}

}  // namespace

TEST(LedgerWindow, ASwarmOfThreeGesturesBuiltByMouseHasItsNumbersInTheLedger) {
    Hand hand;
    hand.click("newSwarm");  // ten by ten boxes, 1.25 m apart
    hand.addGesture("rise");
    hand.typeNumber("positionAmount", "2", 1);
    hand.click("addZone-ball");
    hand.typeNumber("radius", "4");
    hand.typeNumber("softEdge", "4");
    hand.addGesture("randomSize");
    hand.addGesture("formula");
    hand.typeFormula(hand.find<QPlainTextEdit>("formula"), "i / 10");
    hand.typeNumber("positionAmount", "0", 1);
    hand.typeNumber("positionAmount", "1", 0);
    LedgerPanel* ledger = openLedger(hand);
    ASSERT_TRUE(ledger);
    ASSERT_TRUE(hand.eventually([&] { return ledger->table().model()->rowCount() == 100; }));
    for (const int row : {0, 7, 44, 45, 99}) {
        const double x = (row % 10 - 4.5) * 1.25, z = (row / 10 - 4.5) * 1.25;
        const double t = std::clamp((4 - std::hypot(x, z)) / 4, 0.0, 1.0), weight = t * t * (3 - 2 * t);
        EXPECT_EQ(cell(ledger, row, "Number").toInt(), row);
        EXPECT_NEAR(cell(ledger, row, "Position X").toDouble(), x + row / 10.0, 6e-4);
        EXPECT_NEAR(cell(ledger, row, "Position Y").toDouble(), 2 * weight, 6e-4) << row;
        EXPECT_NEAR(cell(ledger, row, "Position Z").toDouble(), z, 6e-4);
        EXPECT_EQ(cell(ledger, row, "Scale X"), cell(ledger, row, "Scale Y"));
    }
    // Sorted by height downward: the middle ones come first; a third click gives the order of numbers back.
    const auto rows = [&] { return ledger->table().model()->rowCount(); };
    clickHeader(hand, ledger, "Position Y");
    clickHeader(hand, ledger, "Position Y");
    EXPECT_TRUE(hand.eventually([&] { return QStringList({"44", "45", "54", "55"}).contains(cell(ledger, 0, "Number")); }));
    EXPECT_GT(cell(ledger, 0, "Position Y").toDouble(), cell(ledger, 50, "Position Y").toDouble());
    clickHeader(hand, ledger, "Position Y");
    EXPECT_TRUE(hand.eventually([&] { return cell(ledger, 0, "Number") == "0"; }));
    // Filtered by a formula; a mistake points at its place and keeps the list.
    auto* filter = hand.find<QWidget>("ledgerFilter")->findChild<QPlainTextEdit*>();
    hand.typeFormula(filter, "i < 10 && xNow > 0");
    int wanted = 0;
    for (int i = 0; i < 10; ++i) wanted += (i - 4.5) * 1.25 + i / 10.0 > 0;
    EXPECT_TRUE(hand.eventually([&] { return rows() == wanted; })) << rows();
    // Pasted, because half a word may be a formula too.
    QApplication::clipboard()->setText("i < wobble");
    filter->setFocus();
    filter->selectAll();
    QTest::keyClick(filter, Qt::Key_V, Qt::ControlModifier);
    QTest::keyClick(filter, Qt::Key_Escape);
    hand.settle();
    EXPECT_TRUE(hand.eventually([&] { return hand.find<QWidget>("ledgerFilter")->property("errorPlace").toInt() == 4; }));
    EXPECT_EQ(rows(), wanted);
    hand.typeFormula(filter, "");
    hand.key(Qt::Key_Backspace);
    EXPECT_TRUE(hand.eventually([&] { return rows() == 100; })) << rows();
}

TEST(LedgerWindow, RowsChooseInstancesAndInstancesChooseRows) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    LedgerPanel* ledger = openLedger(hand);
    Session& session = hand.window().document().session();
    const auto rowAt = [&](int row) { return QPoint(30, ledger->table().rowViewportPosition(row) + 8); };
    QTest::mouseClick(ledger->table().viewport(), Qt::LeftButton, {}, rowAt(2));
    QTest::mouseClick(ledger->table().viewport(), Qt::LeftButton, Qt::ShiftModifier, rowAt(4));
    EXPECT_EQ(session.instances().ids, idsOfRows(hand.result()->home, {2, 3, 4}));
    // They become a zone of the gesture: it acts on these three alone.
    Hand::answerMenu("The 3 chosen");
    hand.click("addZone-more");
    EXPECT_EQ(hand.result()->cards[0].touched, 3);
    EXPECT_NE(cell(ledger, 3, "Position Y"), cell(ledger, 5, "Position Y"));
    // Copied as text.
    ledger->table().setFocus();
    QTest::keyClick(&ledger->table(), Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text().count('\n'), 4);
    // A band in the picture chooses what it covers; the list scrolls there.
    Picture& picture = hand.window().picture();
    hand.drag(&picture, QPointF(4, 4), QPointF(picture.width() - 8, picture.height() - 8));
    EXPECT_EQ(session.instances().ids.size(), 100u);
    hand.drag(&picture, QPointF(2, 2), QPointF(10, 10));
    EXPECT_TRUE(session.instances().ids.empty());
    // Settings stay with the gesture all the while.
    EXPECT_EQ(hand.window().document().chosen().type(), ObjectType::gesture);
}

TEST(LedgerWindow, OpensAtWhatIsChosenAndSaysWhenNothingFits) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    const ObjectId swarm = hand.window().document().swarm();
    const auto r = hand.result();
    const auto row = static_cast<std::uint32_t>(r->count - 5);
    hand.window().document().session().chooseInstances(swarm, idsOfRows(r->home, {row}));
    auto* ledger = openLedger(hand);
    ASSERT_NE(ledger, nullptr);
    const auto seen = [&] {
        QTableView& table = ledger->table();
        const int first = table.rowAt(0), last = table.rowAt(table.viewport()->height() - 1);
        return first >= 0 && static_cast<int>(row) >= first && (last < 0 || static_cast<int>(row) <= last);
    };
    EXPECT_TRUE(hand.eventually(seen));
    auto* filter = ledger->findChild<QPlainTextEdit*>("formula");
    hand.typeFormula(filter, "yNow > 1000");
    EXPECT_TRUE(hand.eventually([&] { return hand.find<QLabel>("ledgerNone") != nullptr; }));
    EXPECT_TRUE(hand.find<QLabel>("ledgerCount")->text().startsWith("0 of "));
    hand.typeFormula(filter, "i < 3");
    EXPECT_TRUE(hand.eventually([&] { return ledger->table().model()->rowCount() == 3; }));
    EXPECT_EQ(hand.find<QLabel>("ledgerNone"), nullptr);
}

TEST(LedgerWindow, ShowsNamedValuesUntilColumnsAreChosen) {
    Hand hand;
    hand.click("newSwarm");
    auto* ledger = openLedger(hand);
    ASSERT_TRUE(hand.eventually([&] { return ledger->table().model()->rowCount() == 100; }));
    EXPECT_EQ(cell(ledger, 0, "amount"), "no such column");
    hand.addGesture("rise");
    hand.click("channel-value");
    ASSERT_TRUE(hand.eventually([&] { return cell(ledger, 0, "amount") != "no such column"; }));
    for (int row = 0; row < 100; ++row) ASSERT_EQ(cell(ledger, row, "amount").toDouble(), 1);
    // What is chosen by hand stays as it is.
    Hand::answerMenu("amount");
    hand.click("ledgerColumns");
    ASSERT_TRUE(hand.eventually([&] { return cell(ledger, 0, "amount") == "no such column"; }));
    hand.choose("valueOf", "A new named value");
    hand.settle();
    EXPECT_EQ(cell(ledger, 0, "amount"), "no such column");
}
