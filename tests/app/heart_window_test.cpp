// The heart in the real window: weaves, formulas, curves, tally, variations, rehearsal, compare.
#include <gtest/gtest.h>

#include <cmath>
#include <QAbstractItemView>
#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QToolButton>

#include "app/fields/curve_field.h"
#include "app/fields/number_field.h"
#include "app/picture/picture.h"
#include "app/rail/rail_card.h"
#include "app/settings/settings.h"
#include "app/theme/strip.h"
#include "core/edit/rail_edits.h"
#include "core/flow/home_plan.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

const CardState& state(Hand& hand, const QString& card) { return static_cast<RailCard*>(hand.card(card))->state(); }

double numberOf(Hand& hand, ObjectId object, const char* parameter, int component = 0) {
    return valueAt(
        hand.scene(),
        std::get<Numbers>(valueOf(hand.scene(), addressOf(hand.scene(), object, parameter)))[static_cast<std::size_t>(component)], 0);
}

}  // namespace

TEST(Heart, AFormulaIsOfferedNamesAndPointsAtMistakes) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("formula");
    const ObjectId gesture = hand.window().document().chosen();
    auto* editor = hand.find<QPlainTextEdit>("formula");
    const auto text = [&] { return std::get<Formula>(valueOf(hand.scene(), addressOf(hand.scene(), gesture, "pattern-value"))).text; };
    const std::string before = text();
    editor->setFocus();
    editor->selectAll();
    QTest::keyClicks(editor, "smooths");
    QTest::qWait(50);
    QTest::keyClick(editor, Qt::Key_Return);  // takes what is offered
    QTest::keyClicks(editor, "0, 5, x)");
    QTest::keyClick(editor, Qt::Key_Escape);
    hand.settle();
    EXPECT_EQ(text(), "smoothstep(0, 5, x)");
    EXPECT_NE(text(), before);
    hand.typeFormula(editor, "1 + wobble * 2");
    EXPECT_EQ(text(), "1 ");  // what could be understood last while it was typed
    auto* error = hand.find<QLabel>("formulaError");
    ASSERT_TRUE(error);
    EXPECT_TRUE(error->text().contains("wobble"));
    EXPECT_EQ(editor->parentWidget()->property("errorPlace").toInt(), 4);
    hand.typeFormula(editor, "1 / (i - 3)");
    EXPECT_EQ(hand.result()->cards[0].notFinite, 1);
    EXPECT_TRUE(state(hand, "Formula").count.contains("invalid"));
    EXPECT_TRUE(state(hand, "Formula").tip.contains("Not a valid number on one instance: it keeps"));
    hand.typeFormula(editor, "1 / (mod(i, 2))");
    EXPECT_TRUE(state(hand, "Formula").tip.contains("Not a valid number on 50 instances: they keep"));
    EXPECT_EQ(hand.result()->visible, 100);
}

TEST(Heart, NamesThatAreOfferedFollowWhatIsTyped) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("formula");
    auto* editor = hand.find<QPlainTextEdit>("formula");
    editor->setFocus();
    editor->selectAll();
    QTest::keyClicks(editor, "s");
    QTest::qWait(50);
    const auto offered = [] {
        QStringList names;
        if (auto* list = qobject_cast<QAbstractItemView*>(QApplication::activePopupWidget()))
            for (int row = 0; row < list->model()->rowCount(); ++row) names << list->model()->index(row, 0).data().toString();
        return names;
    };
    EXPECT_TRUE(offered().contains("sin(x)"));
    // While the names are open, keys go to them first.
    ASSERT_NE(QApplication::activePopupWidget(), nullptr);
    QTest::keyClicks(QApplication::activePopupWidget(), "mo");
    QTest::qWait(50);
    EXPECT_EQ(editor->toPlainText(), "smo");
    ASSERT_EQ(offered().size(), 1);
    EXPECT_TRUE(offered().front().startsWith("smoothstep("));
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return);
    QTest::qWait(50);
    EXPECT_EQ(editor->toPlainText(), "smoothstep(");
    EXPECT_EQ(QApplication::activePopupWidget(), nullptr);
}

TEST(Heart, AZoneWithoutAFormHasItsLinesInThePictureWhereItActs) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen(), swarm = hand.window().document().swarm();
    Hand::answerMenu("Noise");
    hand.click("addZone-more");
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    const auto contours = [&] { return hand.window().evaluation().latest()->contours; };
    ASSERT_EQ(contours().size(), 1u);
    EXPECT_EQ(contours()[0].zone, zone);
    ASSERT_FALSE(contours()[0].begins.empty());
    // They are painted: with them and without, the picture differs along them.
    Picture& picture = hand.window().picture();
    const auto grabbed = [&] { return picture.grab().toImage(); };
    const QImage with = grabbed();
    hand.click("view-zones");
    const QImage without = grabbed();
    int along = 0, different = 0;
    const ZoneLines begins = contours()[0].begins;
    for (const auto& line : begins)
        for (const auto& place : line) {
            const auto at = picture.view().project(place, picture.size());
            if (!at || !picture.rect().adjusted(2, 2, -2, -60).contains(at->toPoint())) continue;
            ++along;
            different += with.pixel(at->toPoint()) != without.pixel(at->toPoint());
        }
    ASSERT_GT(along, 20);
    EXPECT_GT(different, along * 8 / 10);
    hand.click("view-zones");
    // Only for the chosen gesture, unless it is pinned.
    hand.window().document().choose(swarm);
    hand.settle();
    EXPECT_TRUE(contours().empty());
    hand.window().document().session().pin(zone, true);
    hand.settle();
    EXPECT_EQ(contours().size(), 1u);
    hand.window().document().session().pin(zone, false);
    hand.settle();
    EXPECT_TRUE(contours().empty());
    // While a zone is picked its lines answer a click.
    hand.addGesture("wave");
    const ObjectId wave = hand.window().document().chosen();
    ASSERT_NE(wave, gesture);
    hand.window().document().startPick({ObjectType::zone}, [&](ObjectId picked) {
        hand.window().document().edit([&](const Scene& s) { return weaveZone(s, wave, picked); });
    });
    hand.settle();
    ASSERT_EQ(contours().size(), 1u);
    std::optional<QPointF> line;
    for (const auto& place : begins[0])
        if (const auto at = picture.view().project(place, picture.size());
            at && picture.rect().adjusted(9, 9, -9, -60).contains(at->toPoint()))
            line = at;
    ASSERT_TRUE(line);
    hand.click(&picture, line->toPoint());
    EXPECT_EQ(hand.scene().at(wave).list("weave").size(), 1u);
}

TEST(Heart, TheWeaveIsReadDownwardGroupedAndPinned) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen();
    const auto weave = [&] { return hand.scene().at(gesture).list("weave"); };
    const auto more = [&](int row) {
        auto rows = hand.window().findChildren<QToolButton*>("weaveMore");
        rows.erase(std::remove_if(rows.begin(), rows.end(), [](QToolButton* b) { return !b->isVisible(); }), rows.end());
        hand.click(rows[row], QPoint(8, 8));
    };
    hand.click("addZone-ball");
    hand.click("addZone-slab");
    Hand::answerMenu("Noise");
    hand.click("addZone-more");
    ASSERT_EQ(weave().size(), 3u);
    Hand::answerMenu("Make it a group");
    more(1);
    Hand::answerMenu("Into the group");
    more(3);  // below the group and what it holds
    ASSERT_EQ(weave().size(), 2u);
    EXPECT_EQ(hand.scene().at(weave()[1]).list("group").size(), 2u);
    // Every row has the weight so far; the last row's strip is the card's.
    auto strips = hand.window().findChildren<Strip*>();
    strips.erase(std::remove_if(strips.begin(), strips.end(), [](Strip* s) { return !s->isVisible(); }), strips.end());
    ASSERT_EQ(strips.size(), 4);
    EXPECT_EQ(strips[1]->weights(), state(hand, "Rise").strip);
    const ObjectId zone = referenceOf(hand.scene().at(weave()[0]).part("entry"), "zone");
    Hand::answerMenu("Pin");
    more(0);
    EXPECT_TRUE(hand.window().document().session().pinned(zone));
    Hand::answerMenu("Take the group apart");
    more(1);
    EXPECT_EQ(weave().size(), 3u);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(weave().size(), 2u);
    // A zone that is deleted makes the card wait, and Why? offers the mend.
    hand.window().document().edit([&](const Scene& s) { return remove(s, zone); });
    hand.settle();
    EXPECT_EQ(state(hand, "Rise").count, "incomplete");
    Hand::answerMenu("Take the entry out");
    hand.click(hand.card("Rise"), QPoint(hand.card("Rise")->width() - 20, 50));
    EXPECT_EQ(weave().size(), 1u);
    EXPECT_NE(state(hand, "Rise").count, "waits");
}

TEST(Heart, ACurveIsDrawnAndTheCardSaysWhatAClipCuts) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.click("addZone-ball");
    const ObjectId gesture = hand.window().document().chosen();
    hand.window().settings().setSectionOpen("What changes", false);
    hand.window().settings().setSectionOpen("Where", false);
    hand.window().settings().setSectionOpen("Shaped how", true);
    hand.settle();
    auto* curve = hand.find<CurveField>("curveField");
    ASSERT_TRUE(curve);
    hand.click(curve, QPoint(curve->width() / 2, 30));  // takes hold: the curve is drawn from now on
    EXPECT_EQ(choiceOf(hand.scene().at(gesture).part("where"), "curve"), "drawn");
    curve = hand.find<CurveField>("curveField");
    const QPointF last = curve->placeOf(1);
    hand.drag(curve, last, QPointF(0, 30));
    const auto points = [&] { return std::get<CurvePoints>(valueOf(hand.scene(), addressOf(hand.scene(), gesture, "where-points"))); };
    EXPECT_LT(points()[1].value, 0.7);
    auto* value = hand.find<NumberField>("curve-1");  // its value, typed
    value->type();
    QTest::keyClicks(value->findChild<QLineEdit*>(), "2");
    QTest::keyClick(value->findChild<QLineEdit*>(), Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(points()[1].value, 2);
    QTest::mouseDClick(curve, Qt::LeftButton, {}, QPoint(curve->width() / 2, 40));
    hand.settle();
    EXPECT_EQ(points().size(), 3u);
    QTest::keyClick(curve, Qt::Key_Delete);
    hand.settle();
    EXPECT_EQ(points().size(), 2u);
    EXPECT_EQ(state(hand, "Rise").cut, "");
    hand.click(hand.find<QWidget>("where-clip")->findChild<QAbstractButton*>(), QPoint(10, 8));
    const int clipped = hand.result()->cards[0].clippedWhere;
    EXPECT_GT(clipped, 0);
    EXPECT_EQ(state(hand, "Rise").cut, QString("clipped %1 %").arg(clipped));  // of a hundred
    EXPECT_TRUE(hand.find<QLabel>("clipTold")->text().contains(QString::number(clipped)));
}

TEST(Heart, CardsAreTurnedSoloedSharedAndMadeSingle) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    const ObjectId gesture = hand.window().document().chosen(), first = hand.window().document().swarm();
    QWidget* card = hand.card("Rise");
    hand.drag(card, QPointF(card->width() - 9, card->height() - 4), QPointF(-(card->width() - 16) / 2.0, 0));
    EXPECT_NEAR(numberOf(hand, gesture, "strength"), 50, 2);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(numberOf(hand, gesture, "strength"), 100);  // the drag was one step
    hand.addGesture("tumble");
    hand.card("Rise")->setFocus();
    hand.key(Qt::Key_S);
    EXPECT_TRUE(state(hand, "Rise").solo);
    EXPECT_FALSE(hand.result()->cards[1].acts);
    hand.card("Rise")->setFocus();
    hand.key(Qt::Key_S);
    EXPECT_TRUE(hand.result()->cards[1].acts);
    // A second swarm shares it.
    hand.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    const ObjectId second = hand.window().document().swarm();
    ASSERT_NE(second, first);
    hand.window().document().choose(first);
    hand.settle();
    hand.click(hand.card("Rise"), QPoint(40, 12));
    Hand::answerMenu("Share with > " + QString::fromStdString(hand.scene().at(second).name));
    QContextMenuEvent menu(QContextMenuEvent::Mouse, QPoint(40, 12), hand.card("Rise")->mapToGlobal(QPoint(40, 12)));
    QApplication::sendEvent(hand.card("Rise"), &menu);
    hand.settle();
    ASSERT_EQ(usersOf(hand.scene(), gesture), 2);
    EXPECT_EQ(state(hand, "Rise").swarms, 2);
    EXPECT_TRUE(hand.find<QLabel>("sharedBy"));
    hand.typeNumber("positionAmount", "3", 1);
    EXPECT_NEAR(hand.window().evaluation().resultOf(second)->bounds.high.y, 3, 1e-5f);
    Hand::answerMenu("Give this swarm its own copy");
    QApplication::sendEvent(hand.card("Rise"), &menu);
    hand.settle();
    EXPECT_EQ(usersOf(hand.scene(), gesture), 1);
    EXPECT_EQ(state(hand, "Rise 2").swarms, 1);
}

TEST(Heart, TheTallyTellsOneInstanceInTheCards) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.typeNumber("positionAmount", "0.5", 1);
    hand.addGesture("tint");
    Picture& picture = hand.window().picture();
    const auto r = hand.result();
    const float* m = &r->columns->matrix[12 * 55];
    const auto at = picture.view().project(r->pose.toWorld({m[3], m[7] + 0.5f, m[11]}), picture.size());
    ASSERT_TRUE(at);
    QTest::mouseDClick(&picture, Qt::LeftButton, {}, at->toPoint());
    hand.settle();
    const auto& chosen = hand.window().document().session().instances();
    ASSERT_EQ(chosen.ids.size(), 1u);
    EXPECT_EQ(state(hand, "Rise").added, "Y +0.5 m");
    EXPECT_EQ(state(hand, "Tint").added, "coloured");
    EXPECT_TRUE(state(hand, "Tint").value.startsWith('#'));
    EXPECT_EQ(state(hand, "Formation").added, "home");
    const int row = static_cast<int>(rowsOfIds(r->home, chosen.ids).front());
    EXPECT_EQ(state(hand, "Result").added, QString("number %1").arg(row));
    hand.key(Qt::Key_A);
    EXPECT_EQ(state(hand, "Rise").added, "");
    hand.key(Qt::Key_A);
    EXPECT_EQ(state(hand, "Rise").added, "Y +0.5 m");
}

TEST(Heart, NineValuesAreTriedAndUndoBringsThemBack) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("tumble");
    const ObjectId gesture = hand.window().document().chosen();
    hand.key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    const auto& session = hand.window().document().session();
    ASSERT_TRUE(session.variations());
    const auto& variations = hand.window().evaluation().latest()->variations;
    ASSERT_EQ(variations.size(), 9u);
    EXPECT_EQ(variations[4].value, 5);  // seeds from 1 on
    const auto wanted = variations[4].shown->swarms[0]->columns->matrix;
    EXPECT_NE(wanted, variations[3].shown->swarms[0]->columns->matrix);
    Picture& picture = hand.window().picture();
    hand.click(&picture, picture.rect().center());
    EXPECT_EQ(numberOf(hand, gesture, "pattern-seed"), 5);
    EXPECT_FALSE(session.variations());
    EXPECT_EQ(hand.result()->columns->matrix, wanted);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(numberOf(hand, gesture, "pattern-seed"), 1);
    EXPECT_TRUE(session.variations());
    hand.click("leaveVariations");
    EXPECT_FALSE(session.variations());
    // Another pattern has no such number: the nine pictures end.
    hand.key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(session.variations());
    hand.choose("kind-pattern", "Steady");
    EXPECT_FALSE(session.variations());
    EXPECT_EQ(hand.result()->visible, 100);
}

TEST(Heart, ARehearsalSaysSoAndNamesWhatNeedsTheWhole) {
    Hand hand;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    hand.settle();
    const int all = hand.result()->count;
    hand.addGesture("makeRoom");
    hand.window().document().session().setRehearsal(8);
    hand.settle();
    EXPECT_NEAR(hand.result()->count, all / 8.0, all / 32.0);
    EXPECT_EQ(hand.result()->total, all);
    const QString said = hand.find<QLabel>("bannerText")->text();
    EXPECT_TRUE(said.contains("one of 8")) << said.toStdString();
    EXPECT_TRUE(said.contains("Make room")) << said.toStdString();
    EXPECT_TRUE(state(hand, "Make room").wantsWhole);
    hand.click("workOnAll");
    EXPECT_EQ(hand.result()->count, all);
    EXPECT_FALSE(hand.find<QLabel>("bannerText"));
}

TEST(Heart, AKeptVersionIsSeenWhileCIsHeldAndGhostsStandBesideIt) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    const auto kept = hand.result()->columns->matrix;
    hand.key(Qt::Key_C, Qt::ShiftModifier);
    hand.typeNumber("positionAmount", "3", 1);
    const auto changed = hand.result()->columns->matrix;
    EXPECT_NE(changed, kept);
    hand.window().picture().setFocus();
    QTest::keyPress(&hand.window().picture(), Qt::Key_C);
    hand.settle();
    EXPECT_EQ(hand.result()->columns->matrix, kept);
    QTest::keyRelease(&hand.window().picture(), Qt::Key_C);
    hand.settle();
    EXPECT_EQ(hand.result()->columns->matrix, changed);
    hand.key(Qt::Key_G);
    const auto& ghosts = hand.window().evaluation().latest()->ghosts;
    ASSERT_EQ(ghosts.size(), 4u);
    EXPECT_EQ(ghosts.back().frame, 5);
    EXPECT_NE(ghosts.back().swarm->columns->matrix, changed);
    hand.key(Qt::Key_G);
    EXPECT_TRUE(hand.window().evaluation().latest()->ghosts.empty());
}

TEST(Heart, ANamedValueIsMadeWithTheChannelAndReadByAnother) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("rise");
    hand.choose("kind-pattern", "Number");
    hand.click("channel-position");
    hand.click("channel-value");
    const ObjectId swarm = hand.window().document().swarm();
    ASSERT_EQ(hand.scene().at(swarm).list("namedValues").size(), 1u);
    hand.typeNumber("valueAmount", "4");
    hand.addGesture("formula");
    hand.typeFormula(hand.find<QPlainTextEdit>("formula"), "amount / 4");
    const auto r = hand.result();
    EXPECT_NEAR(r->columns->matrix[12 * 99 + 7] - r->columns->matrix[7], 1, 1e-5f);
    // Renaming it in the swarm's settings rewrites the formula.
    const ObjectId gesture = hand.window().document().chosen();
    hand.window().document().choose(swarm);
    hand.settle();
    auto* name = hand.find<QLineEdit>("namedValueName");
    ASSERT_TRUE(name);
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, "glow");
    QTest::keyClick(name, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(std::get<Formula>(valueOf(hand.scene(), addressOf(hand.scene(), gesture, "pattern-value"))).text, "glow / 4");
    EXPECT_EQ(hand.result()->columns->matrix, r->columns->matrix);
}
