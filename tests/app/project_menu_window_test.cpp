// The menu at the project's name, files that are dropped, help, the walk, and starts of one's own.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QFile>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>
#include <QTimer>

#include "app/help/help_panel.h"
#include "app/help/walk.h"
#include "app/picture/picture.h"
#include "app/time/play.h"
#include "app/window/recent.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

QString written(const QTemporaryDir& folder, const QString& name, const QByteArray& text) {
    QFile file(folder.filePath(name));
    if (file.open(QIODevice::WriteOnly)) file.write(text);
    return file.fileName();
}

/// Files let go over the window, where nothing else takes them.
void drop(Hand& hand, const QStringList& files) { EXPECT_TRUE(hand.dropFiles(files, &hand.window(), {600, 400})); }

const QByteArray pyramid = "v 0 0 0\nv 2 0 0\nv 1 0 2\nv 1 2 1\nf 1 2 3\nf 1 4 2\nf 2 4 3\nf 3 4 1\n";

}  // namespace

TEST(ProjectMenu, HasWhatAProjectNeedsWithItsKeys) {
    Hand hand;
    QStringList entries, keys;
    QTimer::singleShot(100, &hand.window(), [&] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        for (const QAction* action : menu->actions()) {
            entries << action->text();
            keys << action->shortcut().toString();
        }
        menu->close();
    });
    hand.click("title");
    for (const char* wanted : {"New project", "Open a project…", "Open again", "Save", "Save as…", "Save a copy with all its files…",
                               "Import…", "Export", "Preferences", "Help", "Quit"})
        EXPECT_TRUE(entries.contains(wanted)) << wanted;
    for (const char* wanted : {"Ctrl+N", "Ctrl+O", "Ctrl+S", "Ctrl+Shift+S", "Ctrl+Q", "F1"}) EXPECT_TRUE(keys.contains(wanted)) << wanted;
}

TEST(ProjectMenu, OpensAgainWhatWasOpenLast) {
    Hand hand;
    const QString urchin = GSWARM_SOURCE "/demo/urchin.gswarm", kelp = GSWARM_SOURCE "/demo/kelp.gswarm";
    ASSERT_TRUE(hand.window().openFile(urchin));
    ASSERT_TRUE(hand.window().openFile(kelp));
    ASSERT_GE(recent::projects().size(), 2);
    EXPECT_EQ(recent::projects()[0], kelp);
    EXPECT_EQ(recent::projects()[1], urchin);
    Hand::answerMenu("Open again > urchin");
    hand.click("title");
    hand.settle();
    EXPECT_EQ(QString::fromStdString(hand.window().document().path().string()), urchin);
}

TEST(Import, AMeshThatIsDroppedIsScatteredOnInFour) {
    Hand hand;
    QTemporaryDir folder;
    const QString mesh = written(folder, "rock.obj", pyramid);
    int actions = 0;
    hand.click("newSwarm"), ++actions;
    drop(hand, {mesh}), ++actions;
    const ObjectId rock = hand.scene().named(ObjectType::shape, "rock");
    ASSERT_TRUE(rock);
    EXPECT_EQ(hand.window().document().chosen(), rock);
    hand.window().document().choose(hand.window().document().swarm()), ++actions;
    hand.settle();
    hand.pickFormation("randomOnMesh"), ++actions;
    const auto result = hand.window().evaluation().resultOf(hand.window().document().swarm());
    EXPECT_GE(result->count, 100);
    EXPECT_LE(actions, 4);
    const ObjectId formation = hand.scene().at(hand.window().document().swarm()).list("formations").front();
    EXPECT_EQ(referenceOf(hand.scene().at(formation).part("formation"), "shape"), rock);
}

TEST(Import, FilesComeIntoTheProjectsFolderAndAlongWhenItIsSavedElsewhere) {
    Hand hand;
    QTemporaryDir outside, home, other;
    hand.click("newSwarm");
    drop(hand, {written(outside, "rock.obj", pyramid), written(outside, "points.csv", "0,0,0\n1,0,0\n")});
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u) << "points are a swarm";
    Document& document = hand.window().document();
    ASSERT_TRUE(document.save((home.path() + "/reef.gswarm").toStdString()));
    EXPECT_TRUE(QFile::exists(home.filePath("rock.obj")));
    EXPECT_TRUE(QFile::exists(home.filePath("points.csv")));
    drop(hand, {written(outside, "stone.obj", pyramid + "# another\n")});
    EXPECT_TRUE(QFile::exists(home.filePath("stone.obj")));
    EXPECT_TRUE(hand.line().contains("stone.obj")) << hand.line().toStdString();
    ASSERT_TRUE(document.saveCopy((other.path() + "/copy.gswarm").toStdString()));
    for (const char* file : {"copy.gswarm", "rock.obj", "stone.obj", "points.csv"})
        EXPECT_TRUE(QFile::exists(other.filePath(file))) << file;
    EXPECT_EQ(document.folder(), std::filesystem::path(home.path().toStdString())) << "the open project stays what it is";
    drop(hand, {other.filePath("copy.gswarm")});
    // The changed project asks before it is left.
    QTest::mouseClick(hand.find<QAbstractButton>("lineAnswer2"), Qt::LeftButton);
    hand.settle();
    EXPECT_EQ(QString::fromStdString(document.path().filename().string()), "copy.gswarm");
}

TEST(Help, OpensAtWhatIsSelectedAndAtASection) {
    Hand hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.key(Qt::Key_F1);
    HelpPanel& help = hand.window().help();
    ASSERT_TRUE(help.isVisible());
    EXPECT_EQ(help.page(), "gestures-and-zones");
    EXPECT_EQ(help.heading(), "What changes");
    EXPECT_GT(help.text().toPlainText().size(), 500);
    hand.click("help-When");
    EXPECT_EQ(help.page(), "time-and-loops");
    EXPECT_EQ(help.heading(), "When");
    hand.key(Qt::Key_F1);
    EXPECT_FALSE(help.isVisible());
}

TEST(Help, EveryPlaceItPointsToIsThere) {
    Hand hand;
    ASSERT_FALSE(guide::pages().isEmpty());
    ASSERT_TRUE(hand.window().openFile(GSWARM_SOURCE "/demo/sonar.gswarm"));
    hand.settle();
    const auto there = [](const guide::Place& place) {
        const QString text = guide::textOf(place.page);
        return !text.isEmpty() && (place.heading.isEmpty() || text.contains("\n## " + place.heading + "\n"));
    };
    for (const auto& [id, object] : hand.scene().objects) {
        const guide::Place place = guide::placeOf(hand.scene(), id);
        EXPECT_TRUE(there(place)) << object->name << ": " << place.page.toStdString() << " " << place.heading.toStdString();
    }
    for (const char* section :
         {"What changes", "Driven by", "Where", "Shaped how", "When", "Formation", "Standing and order", "Stock", "Hanging"}) {
        ASSERT_FALSE(guide::placeOf(QString(section)).page.isEmpty()) << section;
        EXPECT_TRUE(there(guide::placeOf(QString(section)))) << section;
    }
}

TEST(Help, TheWalkLeadsFromTheFirstStartToAMovingSwarmInFiveSteps) {
    Hand hand;
    hand.click("startWalk");
    Walk* walk = hand.window().walk();
    ASSERT_NE(walk, nullptr);
    const auto at = [&](int step) { return hand.eventually([&] { return walk->step() == step; }); };
    EXPECT_TRUE(at(0));
    hand.click("newSwarm");
    EXPECT_TRUE(at(1));
    hand.click(hand.card("Formation"), QPoint(40, 30));
    hand.pickFormation("hexagons");
    EXPECT_TRUE(at(2));
    hand.addGesture("wave");
    EXPECT_TRUE(at(3));
    hand.click("addZone-ball");
    EXPECT_TRUE(at(4));
    hand.key(Qt::Key_Space);
    EXPECT_TRUE(at(5));
    EXPECT_TRUE(hand.window().play().playing());
    hand.key(Qt::Key_Space);
    hand.click("walkLeave");
    EXPECT_FALSE(walk->walking());
}

TEST(Shortcuts, CanBeChangedAndConflictsAreTold) {
    Hand hand;
    hand.click("newSwarm");
    hand.key(Qt::Key_F1, Qt::ControlModifier);
    auto* keys = hand.find<QKeySequenceEdit>("keys-weights");
    ASSERT_NE(keys, nullptr);
    keys->setKeySequence(QKeySequence("G"));
    emit keys->editingFinished();
    const auto said = [&] { return hand.window().findChild<QLabel*>("shortcutSaid")->text(); };
    EXPECT_TRUE(said().contains("Ghosts")) << said().toStdString();
    EXPECT_EQ(keys->keySequence(), QKeySequence("W")) << "it keeps what it had";
    keys->setKeySequence(QKeySequence("Ctrl+Alt+W"));
    emit keys->editingFinished();
    hand.window().findChild<QWidget*>("shortcutList")->hide();
    hand.settle();
    hand.key(Qt::Key_W);
    EXPECT_FALSE(hand.window().picture().showsWeights());
    hand.key(Qt::Key_W, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_TRUE(hand.window().picture().showsWeights());
    hand.click(hand.window().findChild<QAbstractButton*>("resetShortcuts"), QPoint(20, 10));
    hand.key(Qt::Key_W);
    EXPECT_FALSE(hand.window().picture().showsWeights());
}

TEST(Line, AnAnswerOfAnEarlierQuestionIsNoAnswer) {
    Hand hand;
    hand.click("newSwarm");
    hand.key(Qt::Key_N, Qt::ControlModifier);  // leaving unsaved work asks, with three answers
    auto* second = hand.find<QPushButton>("lineAnswer2");
    ASSERT_NE(second, nullptr);
    hand.click("lineAnswer3");
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 1u) << "cancelled";
    QTest::keyClick(second, Qt::Key_Return);
    hand.window().tell("One sentence.");
    QTest::keyClick(second, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 1u) << "the discarding answer was not given";
    EXPECT_EQ(hand.line(), "One sentence.");
}
