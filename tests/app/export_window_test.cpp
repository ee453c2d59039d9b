// The export panel: what it writes, what it tells before, what it refuses, and what is kept of it.
#include "tests/app/exporting.h"

#include <nlohmann/json.hpp>
#include <QContextMenuEvent>
#include <QProcess>
#include <QRegularExpression>
#include <QtEndian>

#include "core/edit/arrange_edits.h"
#include "core/edit/edit.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

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
    // It lags, so that there are frames to bake.
    e.hand.window().document().edit(
        [](const Scene& s) { return setValue(s, addressOf(s, s.all(ObjectType::gesture).front(), "follow-driven"), std::string("lag")); });
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
