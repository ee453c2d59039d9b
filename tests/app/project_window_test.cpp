// Files that are damaged, work that was not saved, and the line in which the window says so or asks.
#include <gtest/gtest.h>

#include <fstream>
#include <QApplication>
#include <QDir>
#include <QTemporaryDir>
#include <QTest>

#include "app/picture/picture.h"
#include "core/file/project_file.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

const QString demo = GSWARM_SOURCE "/demo/tidal-floor.gswarm";

}  // namespace

TEST(ProjectWindow, ADamagedFileLeavesTheOpenProjectUntouched) {
    Hand hand;
    QTemporaryDir folder;
    ASSERT_TRUE(hand.window().openFile(demo));
    const std::string before = toJson(hand.scene());
    std::ofstream(folder.filePath("bad.gswarm").toStdString()) << before.substr(0, before.size() / 2);
    EXPECT_FALSE(hand.window().openFile(folder.filePath("bad.gswarm")));
    EXPECT_EQ(toJson(hand.scene()), before);
    EXPECT_TRUE(hand.line().contains("bad.gswarm")) << hand.line().toStdString();
}

TEST(ProjectWindow, UnsavedWorkIsOfferedAfterAKill) {
    QTemporaryDir folder;
    {
        Hand hand;
        hand.click("newSwarm");
        Autosave autosave(hand.window().document(), nullptr);
        autosave.write();
        QTest::qWait(300);
        // What a killed process leaves: the copy under its own process number.
        const QString left = QString::fromStdString(Autosave::folder().string());
        QDir().mkpath(left);
        ASSERT_TRUE(QFile::copy(left + QString("/%1.gswarm").arg(QApplication::applicationPid()), left + "/999999999.gswarm"));
    }
    Hand hand;
    hand.window().offerRecovery();
    EXPECT_TRUE(hand.line().contains("ended without saving")) << hand.line().toStdString();
    hand.click("lineYes");
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 1u);
    EXPECT_FALSE(hand.window().document().saved());
    EXPECT_FALSE(Autosave::find());
}

TEST(ProjectWindow, WhatTheLineSaysMovesNothingAndAQuestionStays) {
    Hand hand;
    hand.click("newSwarm");
    auto* formation = hand.card("Formation");
    const auto where = [&] { return formation->mapTo(&hand.window(), QPoint()); };
    const QPoint before = where();
    const QSize picture = hand.window().picture().size();
    hand.window().tell("One sentence that says what is wrong, where, and what to do about it.");
    hand.settle();
    EXPECT_TRUE(hand.line().startsWith("One sentence"));
    EXPECT_EQ(where(), before);
    EXPECT_EQ(hand.window().picture().size(), picture);
    auto* line = hand.find<QWidget>("line");
    EXPECT_TRUE(hand.window().picture().geometry().contains(line->geometry()));
    // A long one takes several lines and stays inside; a larger window takes it along.
    hand.window().tell(QString("many words ").repeated(40));
    EXPECT_GT(line->height(), 60);
    EXPECT_TRUE(hand.window().picture().geometry().contains(line->geometry()));
    hand.window().resize(1500, 900);
    hand.settle();
    EXPECT_NEAR(line->geometry().center().x(), hand.window().picture().width() / 2, 2);
    hand.window().resize(1280, 800);
    hand.settle();
    hand.window().picture().setFocus();
    hand.key(Qt::Key_Escape);
    EXPECT_EQ(hand.line(), "");

    // What is asked is not covered by what goes wrong meanwhile, nor taken away by Escape.
    hand.key(Qt::Key_N, Qt::ControlModifier);
    ASSERT_TRUE(hand.line().contains("not saved")) << hand.line().toStdString();
    hand.window().tell("Something else.");
    hand.key(Qt::Key_Escape);
    EXPECT_TRUE(hand.line().contains("not saved"));
    hand.click("lineNo");
    EXPECT_EQ(hand.line(), "");
    EXPECT_TRUE(hand.scene().all(ObjectType::swarm).empty());
}
