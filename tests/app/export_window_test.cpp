// The export panel: what it writes, what it refuses, and what a cancelled sequence keeps.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QProcess>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtEndian>
#include <QTest>
#include <QToolButton>

#include "app/export/export_leftovers.h"
#include "app/export/export_panel.h"
#include "app/export/export_queue.h"
#include "app/export/export_queue_panel.h"
#include "app/fields/number_field.h"
#include "core/edit/edit.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// The export view of a window, worked by hand.
struct Exporting {
    Hand hand;
    QTemporaryDir folder;
    QString sentence;
    bool fine = false;
    int ended = 0;

    Exporting() {
        hand.click("newSwarm");
        hand.key(Qt::Key_F7);
        QObject::connect(panel(), &ExportPanel::ended, [this](bool f, const QString& s) {
            fine = f;
            sentence = s;
            ++ended;
        });
    }
    ExportQueue& queue() { return *hand.window().findChild<ExportQueue*>(); }
    const ExportJob& job(std::size_t at) { return queue().jobs().at(at); }
    /// Clicks a button of a job's row.
    void press(std::size_t at, const char* button) {
        auto* row = hand.window().findChild<ExportQueuePanel*>()->findChildren<ExportRow*>().at(static_cast<int>(at));
        auto* found = row->findChild<QToolButton*>(button);
        ASSERT_TRUE(found && found->isVisible()) << button;
        QTest::mouseClick(found, Qt::LeftButton);
    }
    ExportPanel* panel() { return hand.find<ExportPanel>("exportPanel"); }
    QLineEdit* path() { return hand.find<QLineEdit>("exportPath"); }
    QString file(const QString& name) const { return folder.filePath(name); }

    void choose(const QString& id) {
        auto* list = hand.find<QListWidget>("exportKinds");
        for (int row = 0; row < list->count(); ++row) {
            if (list->item(row)->data(Qt::UserRole).toString() != id) continue;
            list->scrollToItem(list->item(row));
            QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(row)).center());
        }
        ASSERT_EQ(list->currentItem()->data(Qt::UserRole).toString(), id);
    }
    void size(int width, int height, int samples) {
        for (const auto& [name, value] : {std::pair{"exportWidth", width}, {"exportHeight", height}, {"exportSamples", samples}})
            typeInto(name, value);
    }
    void frames(int first, int last) {
        for (const auto& [name, value] : {std::pair{"exportFirst", first}, {"exportLast", last}}) typeInto(name, value);
    }
    void typeInto(const char* name, int value) { hand.typeNumber(name, QString::number(value)); }
    void type(const QString& text) {
        path()->setFocus();
        path()->selectAll();
        QTest::keyClicks(path(), text);
    }
    bool wait(int milliseconds = 60000) {
        const int before = ended;
        QElapsedTimer clock;
        clock.start();
        while (ended == before && clock.elapsed() < milliseconds) QTest::qWait(10);
        return ended > before;
    }
    void start() { QTest::mouseClick(hand.find<QPushButton>("exportStart"), Qt::LeftButton); }
    /// Types the file, starts and waits.
    void write(const QString& name) {
        type(file(name));
        const int before = ended;
        start();
        if (ended == before) {
            ASSERT_TRUE(wait());
        }
    }
};

}  // namespace

TEST(ExportWindow, AWrongEndingAndAMissingFolderAreRefusedInPlace) {
    Exporting e;
    e.choose("csv");
    e.write("table.txt");
    EXPECT_FALSE(e.fine);
    EXPECT_TRUE(e.sentence.contains(".csv")) << e.sentence.toStdString();
    EXPECT_TRUE(QDir(e.folder.path()).isEmpty());

    e.write("nowhere/table.csv");
    EXPECT_FALSE(e.fine);
    EXPECT_TRUE(e.sentence.contains("nowhere")) << e.sentence.toStdString();
    EXPECT_TRUE(QDir(e.folder.path()).isEmpty());
    // It stands in the panel, and the next try works.
    QStringList said;
    for (auto* label : e.panel()->findChildren<QLabel*>()) said << label->text();
    EXPECT_TRUE(said.contains(e.sentence));
    e.write("table.csv");
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_TRUE(QFile::exists(e.file("table.csv")));
}

TEST(ExportWindow, WithoutASwarmThereIsNothingToExport) {
    Hand hand;
    hand.key(Qt::Key_F7);
    auto* start = hand.find<QPushButton>("exportStart");
    ASSERT_NE(start, nullptr);
    QTest::mouseClick(start, Qt::LeftButton);
    QStringList said;
    for (auto* label : hand.find<ExportPanel>("exportPanel")->findChildren<QLabel*>()) said << label->text();
    EXPECT_TRUE(said.contains("There is no swarm to export yet."));
}

TEST(ExportWindow, TheNameFollowsTheFormatAndTheProject) {
    Exporting e;
    e.choose("still");
    EXPECT_TRUE(e.path()->text().endsWith("/untitled.png"));
    EXPECT_TRUE(e.hand.find<NumberField>("exportWidth"));
    e.choose("gltf");
    EXPECT_TRUE(e.path()->text().endsWith("/untitled.glb"));
    EXPECT_FALSE(e.hand.find<NumberField>("exportWidth"));  // a table and geometry have no size
    ASSERT_TRUE(e.hand.window().openFile(GSWARM_SOURCE "/demo/tidal-floor.gswarm"));
    e.hand.settle();
    EXPECT_EQ(QFileInfo(e.path()->text()).fileName(), "tidal-floor.glb");
    EXPECT_EQ(QFileInfo(e.path()->text()).path(), QString(GSWARM_SOURCE "/demo"));
}

TEST(ExportWindow, APictureHasTheSizeAndTheFrameThatIsShown) {
    Exporting e;
    e.hand.addGesture("rise");
    const ObjectId gesture = e.hand.window().document().chosen();
    // Gone at frame 30.
    e.hand.window().document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, gesture, "positionAmount", 1), 0, 0); });
    e.choose("still");
    e.size(160, 90, 4);
    e.write("here.png");
    ASSERT_TRUE(e.fine) << e.sentence.toStdString();
    const QImage here(e.file("here.png"));
    EXPECT_EQ(here.size(), QSize(160, 90));
    e.hand.window().document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, gesture, "positionAmount", 1), 1000, 0); });
    e.hand.settle();
    e.write("away.png");
    const QImage away(e.file("away.png"));
    ASSERT_EQ(away.size(), here.size());
    int different = 0;
    for (int y = 0; y < 90; ++y)
        for (int x = 0; x < 160; ++x) different += here.pixel(x, y) != away.pixel(x, y);
    EXPECT_GT(different, 160 * 90 / 20);
    // Written once more, the same picture lies there: chance has a seed.
    e.write("again.png");
    EXPECT_EQ(QImage(e.file("again.png")), away);
}

TEST(ExportWindow, GeometryHasEveryInstance) {
    Exporting e;
    e.choose("gltf");
    e.write("still.glb");
    ASSERT_TRUE(e.fine) << e.sentence.toStdString();
    QFile glb(e.file("still.glb"));
    ASSERT_TRUE(glb.open(QIODevice::ReadOnly));
    const QByteArray bytes = glb.readAll();
    ASSERT_EQ(bytes.left(4), "glTF");
    const auto word = [&](int at) { return qFromLittleEndian<quint32>(bytes.constData() + at); };
    EXPECT_EQ(word(8), static_cast<quint32>(bytes.size()));
    const auto json = nlohmann::json::parse(bytes.mid(20, static_cast<int>(word(12))).toStdString());
    std::size_t instances = 0;
    for (const auto& node : json["nodes"])
        if (node.contains("mesh") && node.contains("extensions")) {
            const auto& attributes = node["extensions"]["EXT_mesh_gpu_instancing"]["attributes"];
            instances += json["accessors"][attributes["TRANSLATION"].get<std::size_t>()]["count"].get<std::size_t>();
        }
    EXPECT_EQ(instances, 100u);
}

TEST(ExportWindow, ASequenceHasTheFramesThatWereTyped) {
    Exporting e;
    e.choose("still");
    EXPECT_FALSE(e.hand.find<NumberField>("exportFirst"));
    e.choose("sequence");
    const auto value = [&](const char* name) { return e.hand.find<NumberField>(name)->value(); };
    // The whole project at first, and whatever it becomes while nothing else was typed.
    const int last = value("exportLast");
    EXPECT_EQ(value("exportFirst"), 0);
    EXPECT_GT(last, 100);
    const ObjectId piece = e.hand.scene().all(ObjectType::project).front();
    e.hand.window().document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, piece, "lastFrame"), 40, 0); });
    EXPECT_EQ(value("exportLast"), 40);
    e.size(32, 18, 1);
    e.frames(7, 9);
    e.write("few.png");
    ASSERT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_EQ(QDir(e.folder.path()).entryList(QDir::Files, QDir::Name), (QStringList{"few-0007.png", "few-0008.png", "few-0009.png"}));
    e.frames(9, 7);
    e.write("none.png");
    EXPECT_FALSE(e.fine);
    EXPECT_TRUE(e.sentence.contains("must not be before")) << e.sentence.toStdString();
    EXPECT_EQ(QDir(e.folder.path()).entryList(QDir::Files).size(), 3);
}

TEST(ExportWindow, EveryExporterWritesWhatTheToolWrites) {
    Exporting e;
    e.hand.addGesture("wave");
    // The size of pictures is the project's.
    e.choose("still");
    e.size(48, 27, 2);
    const std::filesystem::path project = e.file("waves.gswarm").toStdString();
    ASSERT_TRUE(e.hand.window().document().save(project));
    ASSERT_TRUE(QDir(e.folder.path()).mkdir("window") && QDir(e.folder.path()).mkdir("tool"));
    for (const ExporterKind* kind : exporters()) {
        const QString id = QString::fromStdString(kind->id), name = "waves-" + id + QString::fromStdString(kind->ending);
        e.choose(id);
        QStringList words{"export", QString::fromStdString(project.string()), e.file("tool/" + name), "--as", id};
        for (const auto& [setting, value] : {std::pair{"width", 48}, {"height", 27}, {"samples", 2}, {"seed", 5}}) {
            if (kind->indexOf(setting) < 0) continue;
            e.typeInto(QString("export%1%2").arg(QChar(setting[0]).toUpper()).arg(setting + 1).toUtf8().constData(), value);
            words << QString("--%1").arg(setting) << QString::number(value);
        }
        if (kind->moves) {
            e.frames(3, 5);
            words << "--frames"
                  << "3-5";
        }
        e.write("window/" + name);
        ASSERT_TRUE(e.fine) << kind->id << ": " << e.sentence.toStdString();
        ASSERT_EQ(QProcess::execute(GSWARM_TOOL, words), 0) << words.join(' ').toStdString();
    }
    const QStringList made = QDir(e.file("window")).entryList(QDir::Files, QDir::Name);
    EXPECT_EQ(made, QDir(e.file("tool")).entryList(QDir::Files, QDir::Name));
    // Sequences have three files, OBJ a library beside it.
    EXPECT_EQ(made.size(), static_cast<int>(exporters().size()) + 5 * 2 + 1 + 3);
    for (const QString& name : made) {
        QFile window(e.file("window/" + name)), tool(e.file("tool/" + name));
        ASSERT_TRUE(window.open(QIODevice::ReadOnly) && tool.open(QIODevice::ReadOnly)) << name.toStdString();
        EXPECT_TRUE(window.readAll() == tool.readAll()) << name.toStdString();
    }
}

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
    ASSERT_TRUE(e.ended > 0 || e.wait());
    EXPECT_EQ(e.job(0).state, ExportJob::State::paused);
    const int had = QDir(e.folder.path()).entryList({"*.png"}).size();
    ASSERT_GE(had, 2);
    ASSERT_LT(had, 12);
    const QDateTime before = QFileInfo(e.file("reef-0000.png")).lastModified();
    e.press(0, "exportResume");
    ASSERT_TRUE(e.wait());
    EXPECT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_TRUE(e.sentence.contains(QString("%1 that were there already were kept").arg(had))) << e.sentence.toStdString();
    EXPECT_EQ(QDir(e.folder.path()).entryList({"*.png"}).size(), 12);
    EXPECT_EQ(QFileInfo(e.file("reef-0000.png")).lastModified(), before);
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

TEST(ExportWindow, SaysWhatWillBeWritten) {
    Exporting e;
    const auto says = [&] { return e.hand.find<QLabel>("exportWrites")->text(); };
    e.choose("sequence");
    e.type(e.file("a.png"));
    e.frames(0, 9);
    EXPECT_EQ(says(), "Writes a-0000.png to a-0009.png, 10 files.");
    e.typeInto("exportEvery", 4);
    EXPECT_EQ(says(), "Writes a-0000.png to a-0008.png, 3 files.");
    e.choose("obj");
    e.type(e.file("a.obj"));
    EXPECT_EQ(says(), "Writes a.obj. 1 more beside it.");
    e.choose("h264");
    e.type(e.file("a.mp4"));
    EXPECT_EQ(says(), "Writes a.mp4 of 3 frames.");
    // Settings that mean nothing now are not shown.
    e.choose("layered");
    EXPECT_FALSE(e.hand.find<NumberField>("exportRanks"));
    QTest::mouseClick(e.hand.find<QAbstractButton>("exportMattes"), Qt::LeftButton);
    EXPECT_TRUE(e.hand.find<NumberField>("exportRanks"));
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
