// Files that are dropped: what they become depends on where they fall.
#include <gtest/gtest.h>
#include <glm/geometric.hpp>

#include <QApplication>
#include <QDragEnterEvent>
#include <QFile>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>

#include "app/fields/drop_target.h"
#include "app/picture/picture.h"
#include "app/scene/scene_list.h"
#include "app/scene/scene_panel.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

/// A pyramid in a folder of its own.
struct Dropped : Hand {
    QTemporaryDir outside;
    QString mesh = outside.filePath("rock.obj");

    Dropped() {
        QFile file(mesh);
        if (file.open(QIODevice::WriteOnly)) file.write("v 0 0 0\nv 2 0 0\nv 1 0 2\nv 1 2 1\nf 1 2 3\nf 1 4 2\nf 2 4 3\nf 3 4 1\n");
    }
    ObjectId named(const std::string& name, ObjectType type) {
        for (const ObjectId id : scene().all(type))
            if (scene().at(id).name == name) return id;
        return {};
    }
    ObjectId rock() { return named("rock", ObjectType::shape); }
    std::size_t count(ObjectType type) { return scene().all(type).size(); }
};

}  // namespace

TEST(Drop, AFileOnTheStockIsRepeatedTooAndGoesInOneStep) {
    Dropped hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    hand.window().document().choose(hand.scene().at(swarm).list("stock").front());
    hand.settle();
    auto* stock = hand.find<QWidget>("section-Stock");
    ASSERT_NE(stock, nullptr);
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, stock, {20, 8}));
    ASSERT_EQ(hand.scene().at(swarm).list("stock").size(), 2u);
    EXPECT_EQ(referenceOf(hand.scene().at(hand.scene().at(swarm).list("stock")[1]).part("entry"), "shape"), hand.rock());
    EXPECT_EQ(hand.window().document().chosen().type(), ObjectType::stock) << "the settings stay where they were";
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 1u);
    EXPECT_FALSE(hand.rock()) << "one step took both back";
}

TEST(Drop, AFileOnASlotForAShapeGoesInto) {
    Dropped hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm(), formation = hand.scene().at(swarm).list("formations").front();
    hand.pickFormation("randomOnMesh");
    hand.window().document().choose(formation);
    hand.settle();
    auto* slot = hand.find<QWidget>("shape");
    ASSERT_NE(slot, nullptr);
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, slot->findChild<QPushButton*>(), {10, 10}));
    EXPECT_EQ(referenceOf(hand.scene().at(formation).part("formation"), "shape"), hand.rock());
}

TEST(Drop, AFileOnARowOfTheListJoinsWhatItFallsOn) {
    Dropped hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    SceneList& list = hand.window().scenePanel().list();
    const QRect row = list.visualItemRect(list.itemOf(swarm));
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, list.viewport(), QRectF(row).center()));
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 2u);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 1u);
    // Below all rows it is a thing of its own.
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, list.viewport(), {30, list.viewport()->height() - 4.0}));
    EXPECT_EQ(hand.window().document().chosen(), hand.rock());
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 1u);
}

TEST(Drop, AFileInTheViewStandsWhereItFallsOrJoinsTheSwarmUnderIt) {
    Dropped hand;
    hand.click("newSwarm");
    const ObjectId swarm = hand.window().document().swarm();
    Picture& view = hand.window().picture();
    const QPointF corner(view.width() - 60.0, view.height() - 40.0);
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, &view, corner));
    ASSERT_EQ(hand.count(ObjectType::swarm), 2u) << hand.line().toStdString();
    const ObjectId made = hand.scene().all(ObjectType::swarm)[1];
    const Part& place = hand.scene().at(made).part("place");
    const glm::vec3 at(numberAt(hand.scene(), place, "position", 0, 0), numberAt(hand.scene(), place, "position", 0, 1),
                       numberAt(hand.scene(), place, "position", 0, 2));
    EXPECT_NEAR(at.y, 0, 1e-4) << "on the ground";
    EXPECT_GT(glm::length(at), 1) << "and not in the middle";
    EXPECT_EQ(hand.count(ObjectType::shape), 2u) << "no shape but its own";
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_EQ(hand.count(ObjectType::swarm), 1u);
    // On an instance.
    hand.window().document().choose(swarm);
    view.frameChoice();
    hand.settle();
    EXPECT_TRUE(hand.dropFiles({hand.mesh}, &view, QRectF(view.rect()).center()));
    EXPECT_EQ(hand.count(ObjectType::swarm), 1u);
    EXPECT_EQ(hand.scene().at(swarm).list("stock").size(), 2u);
}

TEST(Drop, OnWhatHasGoneButIsStillDrawnFallsOnNothing) {
    Dropped hand;
    hand.click("newSwarm");
    hand.window().document().edit(addSwarm);
    Picture& view = hand.window().picture();
    hand.window().document().choose(hand.scene().all(ObjectType::swarm)[0]);
    view.frameChoice();
    hand.settle();
    const auto material = hand.scene().all(ObjectType::material).front();
    const Scene before = hand.scene();
    // The swarms go; what is drawn is of before until it is evaluated anew.
    for (const ObjectId swarm : before.all(ObjectType::swarm))
        hand.window().document().edit([&](const Scene& s) { return gswarm::remove(s, swarm); });
    const Scene gone = hand.scene();
    QMimeData* data = carrying({material});
    const QPointF at = QRectF(view.rect()).center();
    QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view, &enter);
    QDropEvent drop(at, Qt::CopyAction, data, Qt::LeftButton, Qt::NoModifier);
    EXPECT_NO_THROW(QApplication::sendEvent(&view, &drop));
    QTest::mouseClick(&view, Qt::LeftButton, {}, at.toPoint());
    hand.settle();
    EXPECT_EQ(hand.scene(), gone);
    delete data;
}

TEST(View, SavingLeavesItWhereItIs) {
    Dropped hand;
    hand.click("newSwarm");
    ASSERT_TRUE(hand.window().document().save(hand.outside.filePath("a.gswarm").toStdString()));
    hand.settle();
    ViewCamera turned = hand.window().picture().view();
    turned.around += 1;
    hand.window().picture().setView(turned);
    ASSERT_TRUE(hand.window().document().save(hand.outside.filePath("a.gswarm").toStdString()));
    hand.window().document().edit(addSwarm);  // something new is drawn
    hand.settle();
    EXPECT_EQ(hand.window().picture().view().around, turned.around);
}

TEST(View, FramesWhatIsNewOnlyWhereItLiesOutside) {
    Dropped hand;
    hand.click("newSwarm");
    Picture& view = hand.window().picture();
    const float before = view.view().distance;
    hand.addGesture("wave");
    EXPECT_EQ(view.view().distance, before);
    const ObjectId formation = hand.scene().at(hand.window().document().swarm()).list("formations").front();
    hand.window().document().edit([&](const Scene& s) { return setValue(s, addressOf(s, formation, "count"), fixedNumbers({80, 1, 80})); });
    hand.settle();
    EXPECT_EQ(view.view().distance, before) << "a number that is changed moves nothing";
    hand.window().document().edit([&](const Scene& s) {
        Edit edit = addSwarm(s);
        edit.scene = setValue(edit.scene, addressOf(edit.scene, edit.made, "position"), fixedNumbers({400, 0, 0})).scene;
        return edit;
    });
    hand.settle();
    EXPECT_TRUE(hand.eventually([&] { return view.view().target.x > 300; })) << "the newcomer is seen";
}

TEST(View, ButtonsChooseTheHandlesAndMoveTheCamera) {
    Hand hand;
    hand.click("newSwarm");
    Picture& view = hand.window().picture();
    EXPECT_TRUE(view.handlePlace("x"));
    hand.click("handles-size");
    EXPECT_EQ(view.handleMode(), handles::Mode::size);
    hand.key(Qt::Key_2);
    EXPECT_TRUE(hand.find<QAbstractButton>("handles-turn")->isChecked()) << "the key and the button are one";
    const ObjectId camera = hand.scene().all(ObjectType::camera).front();
    ViewCamera turned = view.view();
    turned.target = {3, 1, 2};
    view.setView(turned);
    hand.click("cameraFromView");
    EXPECT_NEAR(numberAt(hand.scene(), hand.scene().at(camera).part("camera"), "position", 0, 0), turned.camera().position.x, 1e-3);
    turned.target = {0, 0, 0};
    view.setView(turned);
    hand.click("lookThroughCamera");
    EXPECT_NEAR(view.view().camera().position.x, numberAt(hand.scene(), hand.scene().at(camera).part("camera"), "position", 0, 0), 1e-3);
}
