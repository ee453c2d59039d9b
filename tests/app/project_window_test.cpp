// Files that are damaged, work that was not saved, and the line in which the window says so or asks.
#include <gtest/gtest.h>

#include <chrono>
#include <filesystem>
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

namespace {}  // namespace

TEST(ProjectWindow, ADamagedFileLeavesTheOpenProjectUntouched) {
    Hand hand;
    QTemporaryDir folder;
    ASSERT_TRUE(hand.window().openFile(tidalFloor));
    const std::string before = toJson(hand.scene());
    std::ofstream(folder.filePath("bad.gswarm").toStdString()) << before.substr(0, before.size() / 2);
    EXPECT_FALSE(hand.window().openFile(folder.filePath("bad.gswarm")));
    EXPECT_EQ(toJson(hand.scene()), before);
    EXPECT_TRUE(hand.line().contains("bad.gswarm")) << hand.line().toStdString();
}

namespace {

/// What a killed run leaves: a copy whose lock the system has let go.
void leaveCopy(Hand& hand, const QString& name, const QString& project, int secondsAgo) {
    const QString folder = QString::fromStdString(Autosave::folder().string());
    QDir().mkpath(folder);
    saveProject(hand.scene(), (folder + "/" + name + ".gswarm").toStdString());
    std::ofstream((folder + "/" + name + ".project").toStdString()) << project.toStdString();
    std::ofstream((folder + "/" + name + ".lock").toStdString());
    const auto when = std::filesystem::file_time_type::clock::now() - std::chrono::seconds(secondsAgo);
    std::filesystem::last_write_time((folder + "/" + name + ".gswarm").toStdString(), when);
}

}  // namespace

TEST(ProjectWindow, UnsavedWorkIsOfferedAfterAKill) {
    {
        Hand hand;
        hand.click("newSwarm");
        Autosave autosave(hand.window().document(), nullptr);
        autosave.write();
        QTest::qWait(300);
        ASSERT_TRUE(std::filesystem::exists(autosave.copy()));
        EXPECT_TRUE(Autosave::find().empty()) << "it is still running, whatever its number";
        leaveCopy(hand, "999999999", "", 0);
    }
    Hand hand;
    hand.window().offerRecovery();
    EXPECT_TRUE(hand.line().contains("ended without saving")) << hand.line().toStdString();
    hand.click("lineAnswer1");
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 1u);
    EXPECT_FALSE(hand.window().document().saved());
    EXPECT_TRUE(Autosave::find().empty());
}

TEST(ProjectWindow, ACopyIsFoundWhateverTheNumberOfItsProcess) {
    Hand hand;
    hand.click("newSwarm");
    // The number of a process that lives: this one.
    leaveCopy(hand, QString::number(QApplication::applicationPid()), "", 0);
    const auto found = Autosave::find();
    ASSERT_EQ(found.size(), 1u);
    Autosave::discard(found.front());
    EXPECT_TRUE(Autosave::find().empty());
}

TEST(ProjectWindow, AllCopiesAreOfferedTheNewestFirst) {
    Hand hand;
    hand.click("newSwarm");
    leaveCopy(hand, "older", "/somewhere/Kelp.gswarm", 3600);
    leaveCopy(hand, "newer", "/somewhere/Urchin.gswarm", 5);
    hand.window().offerRecovery();
    EXPECT_TRUE(hand.line().contains("Urchin.gswarm") && hand.line().contains("1 of 2")) << hand.line().toStdString();
    hand.click("lineAnswer3");
    EXPECT_TRUE(hand.line().contains("Kelp.gswarm") && hand.line().contains("2 of 2")) << hand.line().toStdString();
    hand.click("lineAnswer2");  // deletes this one
    EXPECT_EQ(hand.line(), "");
    ASSERT_EQ(Autosave::find().size(), 1u);
    EXPECT_EQ(Autosave::find().front().project, "/somewhere/Urchin.gswarm");
    hand.window().offerRecovery();
    hand.click("lineAnswer3");
    EXPECT_EQ(Autosave::find().size(), 1u) << "later: it is kept";
    Autosave::discard(Autosave::find().front());
}

TEST(ProjectWindow, LeavingAChangedProjectCanBeCancelled) {
    Hand hand;
    hand.click("newSwarm");
    const std::string before = toJson(hand.scene());
    hand.key(Qt::Key_N, Qt::ControlModifier);
    ASSERT_TRUE(hand.line().contains("not saved"));
    hand.click("lineAnswer3");
    EXPECT_EQ(hand.line(), "");
    EXPECT_EQ(toJson(hand.scene()), before);
    hand.window().close();
    hand.settle();
    ASSERT_TRUE(hand.line().contains("not saved"));
    hand.click("lineAnswer3");
    EXPECT_TRUE(hand.window().isVisible());
    EXPECT_EQ(toJson(hand.scene()), before);
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
    hand.click("lineAnswer2");
    EXPECT_EQ(hand.line(), "");
    EXPECT_TRUE(hand.scene().all(ObjectType::swarm).empty());
}
