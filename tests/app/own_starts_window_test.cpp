// Beginnings of one's own: kept, found in their galleries with pictures, used again, taken out.
#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QTest>
#include <QToolButton>

#include "app/document/own_starts.h"
#include "app/scene/own_starts_row.h"
#include "core/edit/gesture_starts.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/file/start_file.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// With an empty folder of starts, before and after.
struct Keeping : Hand {
    Keeping() { clear(); }
    ~Keeping() { clear(); }
    static void clear() { QDir(QString::fromStdString(ownStartsFolder().string())).removeRecursively(); }
    Document& document() { return window().document(); }
    ObjectId swarm() { return document().swarm(); }
    /// The tile of that name in the gallery that is open; null if there is none.
    QToolButton* tile(const char* name) { return find<QToolButton>(QString("own-") + name); }
};

bool hasPicture(const QToolButton* tile) {
    const QImage seen = tile->icon().pixmap(88, 60).toImage();
    int bright = 0;
    for (int y = 0; y < seen.height(); ++y)
        for (int x = 0; x < seen.width(); ++x) bright += seen.pixelColor(x, y).lightness() > 90 && seen.pixelColor(x, y).alpha() == 255;
    return seen.width() == 88 && bright > 40;
}

}  // namespace

TEST(OwnStarts, ARailIsKeptAndUsedInAnotherProjectInFour) {
    Keeping hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.addGesture("tumble");
    Document& document = hand.window().document();
    int actions = 0;
    ASSERT_TRUE(keepOwnStart(document, StartOf::rail, document.swarm()));
    actions += 2;  // the menu, and its entry
    EXPECT_TRUE(hand.line().contains("kept")) << hand.line().toStdString();
    const std::string name = document.scene().at(document.swarm()).name;
    document.newProject();
    hand.settle();
    hand.click("newSwarm");
    hand.click("find"), ++actions;
    auto* line = hand.window().findChild<QLineEdit*>("finderLine");
    QTest::keyClicks(line, QString::fromStdString(name) + " own rail");
    QTest::keyClick(line, Qt::Key_Return), ++actions;
    hand.settle();
    EXPECT_EQ(hand.scene().at(document.swarm()).list("rail").size(), 2u);
    EXPECT_LE(actions, 4);
    // A damaged one is passed over.
    QFile damaged(QString::fromStdString((ownStartsFolder() / "bad.gstart").string()));
    ASSERT_TRUE(damaged.open(QIODevice::WriteOnly));
    damaged.write("{");
    damaged.close();
    int troubled = 0;
    for (const OwnStart& own : ownStarts()) troubled += own.trouble.isEmpty() ? 0 : 1;
    EXPECT_EQ(troubled, 1);
}

TEST(OwnStarts, AreInTheirGalleriesWithPictures) {
    Keeping hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.click("addZone-ball");
    const ObjectId gesture = hand.scene().all(ObjectType::gesture).front(), zone = hand.scene().all(ObjectType::zone).front();
    const ObjectId formation = hand.scene().at(hand.swarm()).list("formations").front();
    hand.document().edit([&](const Scene& s) { return rename(s, gesture, "Billow"); });
    hand.document().edit([&](const Scene& s) { return rename(s, zone, "Corner"); });
    hand.document().edit([&](const Scene& s) { return rename(s, formation, "Court"); });
    hand.document().edit([&](const Scene& s) { return rename(s, hand.swarm(), "Flock"); });
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::gesture, gesture));
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::zone, zone));
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::formation, formation));
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::swarm, hand.swarm()));

    hand.document().newProject();
    hand.settle();
    hand.click("newSwarm");
    // The gesture, in the gallery of gestures and nowhere else.
    hand.click("addGesture");
    ASSERT_NE(hand.tile("Billow"), nullptr);
    EXPECT_EQ(hand.tile("Court"), nullptr);
    EXPECT_TRUE(hand.eventually([&] { return hasPicture(hand.tile("Billow")); }));
    hand.click("own-Billow");
    ASSERT_EQ(hand.scene().at(hand.swarm()).list("rail").size(), 1u);
    EXPECT_NE(hand.card("Billow"), nullptr);
    EXPECT_EQ(hand.scene().all(ObjectType::zone).size(), 1u) << "with its zone";
    // The zone, under More at where a gesture acts.
    hand.document().choose(hand.scene().all(ObjectType::gesture).front());
    hand.settle();
    QTimer::singleShot(200, &hand.window(), [&] {
        auto* menu = QApplication::activePopupWidget();
        ASSERT_NE(menu, nullptr);
        auto* tile = menu->findChild<QToolButton*>("own-Corner");
        ASSERT_NE(tile, nullptr);
        QTest::mouseClick(tile, Qt::LeftButton);
    });
    hand.click("addZone-more");
    hand.settle();
    EXPECT_EQ(hand.scene().at(hand.scene().all(ObjectType::gesture).front()).list("weave").size(), 2u);
    // The formation, as another version that is on.
    hand.document().choose(hand.scene().at(hand.swarm()).list("formations").front());
    hand.settle();
    hand.click("pickFormation");
    ASSERT_NE(hand.tile("Court"), nullptr);
    EXPECT_TRUE(hand.eventually([&] { return hasPicture(hand.tile("Court")); }));
    hand.click("own-Court");
    EXPECT_EQ(hand.scene().at(hand.swarm()).list("formations").size(), 2u);
    // The whole swarm, under the (+) of the list.
    hand.click("addThing");
    ASSERT_NE(hand.tile("Flock"), nullptr);
    hand.click("own-Flock");
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u);
}

TEST(OwnStarts, ADamagedOneIsToldInTheGalleryAndOneThatGoesIsGone) {
    Keeping hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    const ObjectId gesture = hand.scene().all(ObjectType::gesture).front();
    hand.document().edit([&](const Scene& s) { return rename(s, gesture, "Billow"); });
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::gesture, gesture));
    QFile damaged(QString::fromStdString((ownStartsFolder() / "bad.gstart").string()));
    ASSERT_TRUE(damaged.open(QIODevice::WriteOnly));
    damaged.write("{");
    damaged.close();
    hand.click("addGesture");
    auto* told = hand.find<QLabel>("ownStartTroubles");
    ASSERT_NE(told, nullptr);
    EXPECT_TRUE(told->text().contains("bad.gstart")) << told->text().toStdString();
    ASSERT_NE(hand.tile("Billow"), nullptr);
    Hand::answerMenu("Take it out of my galleries");
    emit hand.tile("Billow")->customContextMenuRequested({10, 10});
    hand.settle();
    EXPECT_EQ(hand.tile("Billow"), nullptr);
    EXPECT_EQ(ownStarts().size(), 1u) << "the damaged one is the person's to mend";
}

TEST(OwnStarts, AFileWhosePictureCantBeMadeIsATileWithoutOne) {
    Keeping hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.click("addZone-ball");
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    hand.document().edit([&](const Scene& s) { return rename(s, zone, "Corner"); });
    KeptStart full = keepStart(hand.scene(), StartOf::zone, hand.swarm(), zone, "Corner");
    const ObjectId swarm = full.scene.all(ObjectType::swarm).front();
    const auto again = [&] {
        for (const GestureStart& start : gestureStarts())
            if (start.id == "wave") return start.make();
        return Object{};
    };
    // As many cards as may be, so that none to colour it fits in.
    while (full.scene.at(swarm).list("rail").size() < 64) full.scene = addGesture(full.scene, swarm, again()).scene;
    QDir().mkpath(QString::fromStdString(ownStartsFolder().string()));
    saveStart(full, ownStartsFolder() / "corner.gstart");
    OwnStartsRow row({StartOf::zone}, 3, nullptr);
    row.refresh();
    ASSERT_NE(row.findChild<QToolButton*>("own-Corner"), nullptr) << row.findChild<QLabel*>("ownStartTroubles")->text().toStdString();
    QTest::qWait(1500);
    EXPECT_FALSE(hasPicture(row.findChild<QToolButton*>("own-Corner")));
}

TEST(OwnStarts, AMaterialIsKeptAndWornInAnotherProject) {
    Keeping hand;
    hand.click("newSwarm");
    const ObjectId material = hand.scene().all(ObjectType::material).front();
    hand.document().edit([&](const Scene& s) { return rename(s, material, "Sea glaze"); });
    hand.document().edit([&](const Scene& s) { return setValue(s, addressOf(s, material, "metal"), fixedNumbers({0.8})); });
    ASSERT_TRUE(keepOwnStart(hand.document(), StartOf::material, material));
    hand.document().newProject();
    hand.settle();
    hand.click("newSwarm");
    hand.document().choose(hand.scene().at(hand.swarm()).list("stock").front());
    hand.settle();
    hand.click("pickMaterial");
    ASSERT_NE(hand.tile("Sea glaze"), nullptr);
    EXPECT_TRUE(hand.eventually([&] { return hasPicture(hand.tile("Sea glaze")); }));
    hand.click("own-Sea glaze");
    const ObjectId worn = materialOf(hand.scene(), hand.scene().at(hand.swarm()).list("stock").front());
    EXPECT_EQ(hand.scene().at(worn).name, "Sea glaze");
    EXPECT_NEAR(std::get<Numbers>(hand.scene().at(worn).part("material")["metal"]).front().value, 0.8, 1e-9);
}
