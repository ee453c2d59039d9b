// The queue of exports: order, pauses, cancelling, what is in the way, crashes, and leaving.
#include "tests/app/exporting.h"

#include "app/export/export_leftovers.h"

using namespace gswarm;

TEST(ExportWindow, JobsAreWrittenOneAfterTheOther) {
    Exporting e;
    e.choose("still");
    e.size(320, 180, 64);
    e.type(e.file("first.png"));
    e.start();
    e.choose("csv");
    e.type(e.file("second.csv"));
    e.start();
    e.type(e.file("third.csv"));
    e.start();
    ASSERT_EQ(e.queue().jobs().size(), 3u);
    EXPECT_EQ(e.job(0).state, ExportJob::State::running);
    EXPECT_EQ(e.job(1).state, ExportJob::State::waiting);
    // The last is wanted first.
    e.press(2, "exportHurry");
    EXPECT_EQ(e.job(1).file.filename(), "third.csv");
    while (e.ended < 3) ASSERT_TRUE(e.wait());
    for (std::size_t at = 0; at < 3; ++at) EXPECT_EQ(e.job(at).state, ExportJob::State::done) << e.job(at).sentence.toStdString();
    for (const char* name : {"first.png", "second.csv", "third.csv"}) EXPECT_TRUE(QFile::exists(e.file(name))) << name;
    EXPECT_LE(QFileInfo(e.file("third.csv")).lastModified(), QFileInfo(e.file("second.csv")).lastModified());
    e.press(0, "exportCancel");
    EXPECT_EQ(e.queue().jobs().size(), 2u);
}

TEST(ExportWindow, APausedSequenceGoesOnWithoutMakingFilesAgain) {
    Exporting e;
    e.choose("sequence");
    e.size(96, 54, 16);
    e.frames(0, 11);
    e.type(e.file("reef.png"));
    e.start();
    QElapsedTimer clock;
    clock.start();
    while (QDir(e.folder.path()).entryList({"*.png"}).size() < 2 && clock.elapsed() < 30000) QTest::qWait(2);
    e.press(0, "exportPause");
    EXPECT_EQ(e.job(0).state, ExportJob::State::paused);
    // What is begun may still be finished; then nothing goes on.
    const auto files = [&] { return QDir(e.folder.path()).entryList({"*.png"}).size(); };
    QTest::qWait(500);
    const int had = files();
    ASSERT_GE(had, 2);
    ASSERT_LT(had, 12);
    QTest::qWait(500);
    EXPECT_EQ(files(), had);
    EXPECT_EQ(e.ended, 0);
    const QDateTime before = QFileInfo(e.file("reef-0000.png")).lastModified();
    e.press(0, "exportResume");
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_EQ(files(), 12);
    EXPECT_EQ(QFileInfo(e.file("reef-0000.png")).lastModified(), before);
    // Asked for once more, all of them are there.
    e.start();
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.sentence.contains("12 that were there already were kept")) << e.sentence.toStdString();
}

TEST(ExportWindow, WhileOneIsPausedAnotherGoesOnAndNothingIsLost) {
    Exporting e;
    e.choose("gif");
    e.size(96, 54, 16);
    e.frames(0, 11);
    e.type(e.file("held.gif"));
    e.start();
    ASSERT_TRUE(e.hand.eventually([&] { return e.job(0).share > 0.1; }));
    e.press(0, "exportPause");
    const double share = e.job(0).share;
    EXPECT_LT(share, 1);
    e.choose("csv");
    e.write("meanwhile.csv");
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_TRUE(QFile::exists(e.file("meanwhile.csv")));
    EXPECT_FALSE(QFile::exists(e.file("held.gif")));
    e.press(0, "exportResume");
    EXPECT_EQ(e.job(0).state, ExportJob::State::running);
    EXPECT_GE(e.job(0).share, share);
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_GT(QFileInfo(e.file("held.gif")).size(), 1000);
    // Paused, it can be cancelled too.
    e.choose("still");
    e.size(640, 360, 256);
    e.type(e.file("never.png"));
    e.start();
    e.press(2, "exportPause");
    e.press(2, "exportCancel");
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.sentence.startsWith("Cancelled")) << e.sentence.toStdString();
    EXPECT_EQ(e.queue().jobs().size(), 2u);
    EXPECT_FALSE(QFile::exists(e.file("never.png")));
}

TEST(ExportWindow, LeavingAsksWhileSomethingIsWritten) {
    Exporting e;
    ASSERT_TRUE(e.hand.window().document().save(e.file("left.gswarm").toStdString()));
    e.choose("still");
    e.size(1280, 720, 4000);
    ASSERT_TRUE(e.hand.window().document().save(e.file("left.gswarm").toStdString()));
    e.type(e.file("slow.png"));
    e.start();
    e.hand.window().close();
    EXPECT_TRUE(e.hand.window().isVisible());
    EXPECT_TRUE(e.hand.line().startsWith("1 export has not ended")) << e.hand.line().toStdString();
    const auto answer = [&](const char* text) {
        for (auto* button : e.hand.window().findChildren<QPushButton*>())
            if (button->isVisible() && button->text() == text) return e.hand.click(button, button->rect().center());
        FAIL() << text;
    };
    answer("Cancel");
    EXPECT_TRUE(e.hand.window().isVisible());
    EXPECT_EQ(e.job(0).state, ExportJob::State::running);
    e.hand.window().close();
    answer("Leave, and drop them");
    EXPECT_TRUE(e.hand.eventually([&] { return !e.hand.window().isVisible(); }));
    EXPECT_TRUE(e.hand.eventually([&] { return e.ended == 1; }));  // it may have ended while the window went
    EXPECT_FALSE(QFile::exists(e.file("slow.png")));
}

TEST(ExportWindow, WhatIsInTheWayIsReplacedOnlyWhenThatIsAskedFor) {
    Exporting e;
    QFile mine(e.file("table.csv"));
    ASSERT_TRUE(mine.open(QIODevice::WriteOnly) && mine.write("mine") == 4);
    mine.close();
    e.choose("csv");
    e.write("table.csv");
    EXPECT_FALSE(e.fine);
    EXPECT_TRUE(e.sentence.contains("is there already")) << e.sentence.toStdString();
    EXPECT_EQ(QFileInfo(mine).size(), 4);
    e.press(0, "exportReplace");
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_GT(QFileInfo(e.file("table.csv")).size(), 1000);
}

TEST(ExportWindow, WhatACrashLeftWaitsToGoOn) {
    Exporting e;
    e.choose("csv");
    e.write("done.csv");
    ExportJob job = e.job(0);
    job.id = 7;
    job.file = e.file("left.csv").toStdString();
    const std::filesystem::path left = e.file("run.exports").toStdString();
    export_leftovers::keep(job, left);
    QFile(e.file("run.exports/8.json")).open(QIODevice::WriteOnly);  // a job that was never whole
    const auto jobs = export_leftovers::take(left);
    ASSERT_EQ(jobs.size(), 1u);
    EXPECT_EQ(jobs[0].settings, job.settings);
    EXPECT_EQ(jobs[0].scene, job.scene);
    EXPECT_FALSE(std::filesystem::exists(left));
    e.queue().addLeft(jobs);
    EXPECT_EQ(e.job(1).state, ExportJob::State::paused);
    EXPECT_FALSE(QFile::exists(e.file("left.csv")));
    e.press(1, "exportResume");
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(QFile::exists(e.file("left.csv")));
}

TEST(ExportWindow, ACancelledSequenceKeepsWhatIsWritten) {
    Exporting e;
    e.choose("sequence");
    e.size(64, 36, 1);
    e.type(e.file("reef.png"));
    e.start();
    auto* cancel = e.hand.find<QToolButton>("exportCancel");
    ASSERT_NE(cancel, nullptr);
    QElapsedTimer clock;
    clock.start();
    while (QDir(e.folder.path()).entryList({"*.png"}).size() < 3 && clock.elapsed() < 30000) QTest::qWait(5);
    QTest::mouseClick(cancel, Qt::LeftButton);
    if (e.ended == 0) {
        ASSERT_TRUE(e.wait(20000));
    }
    EXPECT_FALSE(e.fine);
    EXPECT_TRUE(e.sentence.startsWith("Cancelled")) << e.sentence.toStdString();
    const QStringList files = QDir(e.folder.path()).entryList(QDir::Files, QDir::Name);
    ASSERT_GE(files.size(), 3);
    EXPECT_LT(files.size(), 150);
    // Whole pictures, numbered from the first, nothing half written.
    for (const QString& name : files) {
        EXPECT_TRUE(name.endsWith(".png")) << name.toStdString();
        EXPECT_EQ(QImage(e.file(name)).size(), QSize(64, 36)) << name.toStdString();
    }
    EXPECT_TRUE(e.queue().jobs().empty());
}

TEST(ExportWindow, TheProjectCanBeChangedWhileAnExportRuns) {
    Exporting e;
    e.choose("still");
    e.size(480, 270, 32);
    e.type(e.file("slow.png"));
    e.start();
    ASSERT_EQ(e.ended, 0);
    // Undo while it runs: the picture is of the project as it was when it began.
    // Its size was the project's: two steps before the swarm.
    for (int step = 0; step < 3; ++step) e.hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(e.hand.scene().all(ObjectType::swarm).empty());
    if (e.ended == 0) {
        ASSERT_TRUE(e.wait());
    }
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_EQ(QImage(e.file("slow.png")).size(), QSize(480, 270));
}
