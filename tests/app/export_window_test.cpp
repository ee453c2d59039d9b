// The export panel: what it writes, what it refuses, and what a cancelled sequence keeps.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <QComboBox>
#include <QContextMenuEvent>
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
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QtEndian>
#include <QTest>
#include <QToolButton>

#include "app/export/export_leftovers.h"
#include "app/export/export_panel.h"
#include "app/export/export_queue.h"
#include "app/export/export_queue_panel.h"
#include "app/fields/number_field.h"
#include "core/edit/arrange_edits.h"
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

    QListWidget* list() { return hand.find<QListWidget>("exportKinds"); }
    void clickRow(QListWidgetItem* item, Qt::KeyboardModifiers modifiers = {}) {
        list()->scrollToItem(item);
        QTest::mouseClick(list()->viewport(), Qt::LeftButton, modifiers, list()->visualItemRect(item).center());
    }
    void choose(const QString& id, Qt::KeyboardModifiers modifiers = {}) {
        for (int row = 0; row < list()->count(); ++row)
            if (list()->item(row)->data(Qt::UserRole).toString() == id) clickRow(list()->item(row), modifiers);
        ASSERT_EQ(list()->currentItem()->data(Qt::UserRole).toString(), id);
    }
    QString says(const char* label) { return hand.find<QLabel>(label)->text(); }
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

TEST(ExportWindow, SeveralFormatsAreWrittenAfterOneAnother) {
    Exporting e;
    e.choose("csv");
    e.type(e.file("many.csv"));
    e.choose("npy", Qt::ControlModifier);
    e.choose("plyPoints", Qt::ControlModifier);
    e.choose("plyMesh", Qt::ControlModifier);
    e.frames(2, 4);
    EXPECT_EQ(e.says("exportWrites"), "Writes many-plyPoints.ply, many-plyMesh.ply, many.csv and many.npy of 3 frames.");
    e.start();
    while (e.ended < 4) ASSERT_TRUE(e.wait());
    for (const char* name : {"many-plyPoints.ply", "many-plyMesh.ply", "many.csv", "many.npy"})
        EXPECT_TRUE(QFile::exists(e.file(name))) << name;
    // Taken out one by one, the last stays.
    e.choose("csv");
    EXPECT_EQ(e.says("exportWrites"), "Writes many.csv.");
    e.clickRow(e.list()->currentItem(), Qt::ControlModifier);
    EXPECT_EQ(e.says("exportWrites"), "Writes many.csv.");
}

TEST(ExportWindow, WhatIsKeptComesBackWithItsSettings) {
    const auto own = [](Exporting& e) {
        std::vector<QListWidgetItem*> items;
        for (int row = 0; row < e.list()->count(); ++row)
            if (!e.list()->item(row)->data(Qt::UserRole + 1).toString().isEmpty()) items.push_back(e.list()->item(row));
        return items;
    };
    QString file;
    {
        Exporting e;
        e.choose("gif");
        e.choose("still", Qt::ControlModifier);
        e.size(320, 180, 7);
        e.typeInto("exportEvery", 3);
        e.hand.click("exportKeep");
        // Its name is asked for in place.
        auto* editor = e.list()->findChild<QLineEdit*>();
        ASSERT_TRUE(editor && editor->isVisible());
        QTest::keyClicks(editor, "Reef web");
        QTest::keyClick(editor, Qt::Key_Return);
        e.hand.settle();
        ASSERT_EQ(own(e).size(), 1u);
        EXPECT_EQ(own(e).front()->text(), "Reef web");
        EXPECT_EQ(e.list()->row(own(e).front()), 1) << "under the first title";
        e.choose("still");
        e.size(1280, 720, 64);
    }
    Exporting e;
    ASSERT_EQ(own(e).size(), 1u);
    const QString project = e.file("size.gswarm");
    e.clickRow(own(e).front());
    e.type(e.file("two"));
    EXPECT_EQ(e.hand.find<NumberField>("exportSamples")->value(), 7);
    EXPECT_EQ(e.hand.find<NumberField>("exportWidth")->value(), 320);
    EXPECT_EQ(e.hand.find<NumberField>("exportEvery")->value(), 3);
    EXPECT_TRUE(e.says("exportWrites").startsWith("Writes two.png and two.gif of ")) << e.says("exportWrites").toStdString();
    // Other settings are kept under it, and it is taken away, from its menu.
    e.typeInto("exportSamples", 9);
    const auto menuOn = [&](QListWidgetItem* item) {
        const QPoint at = e.list()->visualItemRect(item).center();
        QContextMenuEvent asked(QContextMenuEvent::Mouse, at, e.list()->viewport()->mapToGlobal(at));
        QCoreApplication::sendEvent(e.list()->viewport(), &asked);
        e.hand.settle();
    };
    Hand::answerMenu("Keep the settings");
    menuOn(own(e).front());
    e.typeInto("exportSamples", 64);
    e.choose("csv");
    e.clickRow(own(e).front());
    EXPECT_EQ(e.hand.find<NumberField>("exportSamples")->value(), 9);
    Hand::answerMenu("Take it away");
    menuOn(own(e).front());
    EXPECT_TRUE(own(e).empty());
    EXPECT_EQ(e.says("exportWrites"), "Writes two.png.");
}

TEST(ExportWindow, OneSwarmOrASelectionIsExportedAlone) {
    Exporting e;
    Document& document = e.hand.window().document();
    const ObjectId first = document.swarm(), second = document.edit([](const Scene&s) { return addSwarm(s); });
    document.edit([&](const Scene& s) { return rename(s, first, "First"); });
    document.edit([&](const Scene& s) { return rename(s, second, "Second"); });
    document.choose(second);
    const auto instancers = [&](const QString& name) {
        QFile stage(e.file(name));
        EXPECT_TRUE(stage.open(QIODevice::ReadOnly));
        const QString text = stage.readAll();
        std::vector<bool> seen;
        for (const char* swarm : {"First", "Second"}) {
            const auto at = text.indexOf(QString("def PointInstancer \"%1\"").arg(swarm));
            seen.push_back(text.mid(at, text.indexOf("def Scope", at) - at).contains("token visibility = \"inherited\""));
        }
        return seen;
    };
    e.choose("usd");
    e.write("both.usda");
    EXPECT_EQ(instancers("both.usda"), (std::vector{true, true}));
    e.hand.choose("exportShown", "What is selected: Second");
    e.write("second.usda");
    EXPECT_EQ(instancers("second.usda"), (std::vector{false, true}));
    e.hand.choose("exportShown", "First");
    e.write("first.usda");
    EXPECT_EQ(instancers("first.usda"), (std::vector{true, false}));
    // Tables are of one swarm.
    e.choose("csv");
    EXPECT_FALSE(e.hand.find<QComboBox>("exportShown"));
    document.edit([&](const Scene& s) {
        return setValue(s, addressOf(s, s.at(first).list("formations").front(), "count"), fixedNumbers({2, 1, 1}));
    });
    e.hand.choose("exportSwarm", "First");
    e.write("first.csv");
    QFile table(e.file("first.csv"));
    ASSERT_TRUE(table.open(QIODevice::ReadOnly));
    EXPECT_EQ(table.readAll().count('\n'), 3);
}

TEST(ExportWindow, AnotherCameraSeesAnotherPicture) {
    Exporting e;
    Document& document = e.hand.window().document();
    const ObjectId camera = document.scene().all(ObjectType::camera).front();
    const ObjectId other = document.edit([&](const Scene& s) { return duplicateThings(s, {camera}); });
    document.edit([&](const Scene& s) { return rename(s, other, "Far"); });
    document.edit([&](const Scene& s) { return setValue(s, addressOf(s, other, "position"), fixedNumbers({70, 60, 90})); });
    e.hand.settle();
    e.choose("still");
    e.size(64, 36, 2);
    e.write("near.png");
    e.hand.choose("exportCamera", "Far");
    e.write("far.png");
    ASSERT_TRUE(e.fine) << e.sentence.toStdString();
    EXPECT_NE(QImage(e.file("near.png")), QImage(e.file("far.png")));
    e.choose("gltf");
    EXPECT_FALSE(e.hand.find<QComboBox>("exportCamera"));
}

TEST(ExportWindow, TellsWhatItTakesByTheFirstFrame) {
    Exporting e;
    e.choose("csv");
    const auto told = [&](const char* start) {
        return e.hand.eventually([&] { return QRegularExpression(start).match(e.says("exportCost")).hasMatch(); });
    };
    EXPECT_TRUE(told("^About [\\d.]+ kB, in less than a second\\.$")) << e.says("exportCost").toStdString();
    const std::filesystem::path file = e.file("told.csv").toStdString();
    const double kilobytes = e.says("exportCost").mid(6).section(' ', 0, 0).toDouble();
    e.write("told.csv");
    EXPECT_NEAR(kilobytes, static_cast<double>(std::filesystem::file_size(file)) / 1000, 0.5);
    // Two small pictures tell of a large one.
    e.choose("still");
    e.size(160, 90, 4);
    EXPECT_TRUE(told("^About [\\d.]+ kB, in ")) << e.says("exportCost").toStdString();
    const double picture = e.says("exportCost").mid(6).section(' ', 0, 0).toDouble();
    e.write("told.png");
    EXPECT_NEAR(picture / (static_cast<double>(QFileInfo(e.file("told.png")).size()) / 1000), 1, 0.4);
    // A video has at most what its frames have alone.
    e.choose("gif");
    e.size(64, 36, 1);
    EXPECT_TRUE(told("^At most .*B, in ")) << e.says("exportCost").toStdString();
    // Elsewhere nothing is measured.
    e.hand.key(Qt::Key_F5);
    EXPECT_EQ(e.hand.window().findChild<QLabel*>("exportCost")->text(), "");
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
    EXPECT_TRUE(e.wait());
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

TEST(ExportWindow, SaysWhatWillBeWritten) {
    Exporting e;
    const auto says = [&] { return e.says("exportWrites"); };
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
