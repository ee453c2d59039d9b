// The scene list as a tree: what stands where, several selected together, names, groups, drops and menus.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QDragEnterEvent>
#include <QLineEdit>
#include <QTest>

#include "app/fields/drop_target.h"
#include "app/fields/number_field.h"
#include "app/scene/scene_list.h"
#include "app/scene/scene_panel.h"
#include "core/edit/edit.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Listed : Hand {
    SceneList& list() { return *find<SceneList>("sceneList"); }
    Document& document() { return window().document(); }
    QPoint at(ObjectId id) {
        list().scrollToItem(list().itemOf(id));
        return list().visualItemRect(list().itemOf(id)).center();
    }
    void select(ObjectId id, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::mouseClick(list().viewport(), Qt::LeftButton, modifiers, at(id));
        settle();
    }
    std::vector<ObjectId> swarms(int count) {
        for (int k = 0; k < count; ++k) key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
        return scene().all(ObjectType::swarm);
    }
    ObjectId parentOf(ObjectId id) {
        const auto* above = list().itemOf(id)->parent();
        return above ? SceneList::idOf(above) : ObjectId{};
    }
    /// Lets things go over a row, `part` of its height down.
    void drop(const std::vector<ObjectId>& things, ObjectId onto, double part = 0.5) {
        const QRect row = list().visualItemRect(list().itemOf(onto));
        const QPointF place(row.left() + 30, row.top() + row.height() * part);
        EXPECT_TRUE(Hand::drop(things, list().viewport(), place));
    }
};

}  // namespace

TEST(SceneList, ASwarmHoldsWhatIsItsOwnAndFolds) {
    Listed hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    hand.click("addZone-ball");
    const ObjectId swarm = hand.document().swarm(), gesture = hand.scene().all(ObjectType::gesture).front(),
                   zone = hand.scene().all(ObjectType::zone).front(), shape = hand.scene().all(ObjectType::shape).front();
    EXPECT_EQ(hand.parentOf(gesture), swarm);
    EXPECT_EQ(hand.parentOf(zone), gesture);
    EXPECT_EQ(hand.parentOf(shape), swarm);
    auto* item = hand.list().itemOf(swarm);
    item->setExpanded(false);
    hand.typeNumber("radius", "2");  // any edit
    EXPECT_FALSE(hand.list().itemOf(swarm)->isExpanded()) << "what was folded stays folded";
}

TEST(SceneList, SevenSwarmsAreSevenLines) {
    Listed hand;
    ASSERT_TRUE(hand.window().openFile(GSWARM_SOURCE "/tests/files/seven-kelps-9.gswarm"));
    hand.settle();
    int rows = 0;
    for (int k = 0; k < hand.list().topLevelItemCount(); ++k) {
        const auto* item = hand.list().topLevelItem(k);
        if (SceneList::idOf(item).type() != ObjectType::swarm) continue;
        ++rows;
        EXPECT_FALSE(item->isExpanded()) << item->text(0).toStdString();
    }
    EXPECT_EQ(rows, 7);
}

TEST(SceneList, SettingsOfSeveralAreChangedTogetherInOneStep) {
    Listed hand;
    const auto swarms = hand.swarms(3);
    hand.select(swarms[0]);
    hand.typeNumber("position", "4", 1);
    hand.select(swarms[2]);
    hand.select(swarms[1], Qt::ControlModifier);
    hand.select(swarms[0], Qt::ControlModifier);
    ASSERT_EQ(hand.document().selection().size(), 3u);
    EXPECT_EQ(hand.find<QLineEdit>("objectName")->text(), "3 things");
    const auto height = [&](int k) {
        return numberAt(hand.scene(), hand.scene().at(swarms[static_cast<std::size_t>(k)]).part("place"), "position", 0, 1);
    };
    EXPECT_EQ(height(0), 4);
    EXPECT_EQ(height(1), 0);
    hand.typeNumber("position", "2.5", 1);
    for (int k = 0; k < 3; ++k) EXPECT_EQ(height(k), 2.5) << k;
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(height(0), 4) << "one step back";
    EXPECT_EQ(height(1), 0);
    // Things of different types have nothing in common, which is said.
    hand.select(swarms[1]);
    hand.select(hand.scene().all(ObjectType::camera).front(), Qt::ControlModifier);
    EXPECT_EQ(hand.field("position"), nullptr);
}

TEST(SceneList, F2RenamesInPlaceAndTheFilterFindsAmongTwoHundred) {
    Listed hand;
    hand.click("newSwarm");
    hand.document().edit([](const Scene& s) {
        Edit edit{s, "many", {}, {}};
        for (int k = 0; k < 200; ++k) edit.scene = addMount(edit.scene).scene;
        return edit;
    });
    hand.settle();
    const ObjectId mount = hand.scene().all(ObjectType::mount)[137];
    hand.select(mount);
    QTest::keyClick(&hand.list(), Qt::Key_F2);
    auto* editor = hand.list().findChild<QLineEdit*>();
    ASSERT_NE(editor, nullptr);
    editor->selectAll();
    QTest::keyClicks(editor, "Current");
    QTest::keyClick(editor, Qt::Key_Return);
    hand.settle();
    EXPECT_EQ(hand.scene().at(mount).name, "Current");
    auto* filter = hand.find<QLineEdit>("sceneFilter");
    QTest::keyClicks(filter, "curr");
    hand.settle();
    EXPECT_NE(hand.list().itemOf(mount), nullptr);
    EXPECT_EQ(hand.list().itemOf(hand.scene().all(ObjectType::mount)[5]), nullptr) << "others are left out";
    filter->clear();
    EXPECT_NE(hand.list().itemOf(hand.scene().all(ObjectType::mount)[5]), nullptr);
}

TEST(SceneList, RenamesAndGroupsThreeSwarmsInFive) {
    Listed hand;
    const auto swarms = hand.swarms(3);
    int actions = 0;
    // Three names, one after the other …
    hand.select(swarms[0]);
    for (int k = 0; k < 3; ++k) {
        QTest::keyClick(&hand.list(), Qt::Key_F2);
        auto* editor = hand.list().findChild<QLineEdit*>();
        ASSERT_NE(editor, nullptr) << k;
        editor->selectAll();
        QTest::keyClicks(editor, QString("Kelp %1").arg(k + 1));
        QTest::keyClick(editor, Qt::Key_Return);
        hand.settle();
        ++actions;
        if (k < 2) hand.document().choose(swarms[static_cast<std::size_t>(k + 1)]);
    }
    for (std::size_t k = 0; k < 3; ++k) EXPECT_EQ(hand.scene().at(swarms[k]).name, "Kelp " + std::to_string(k + 1));
    // … and a group of all.
    hand.document().select(swarms);
    ++actions;
    hand.settle();
    hand.key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
    ++actions;
    const auto groups = hand.scene().all(ObjectType::group);
    ASSERT_EQ(groups.size(), 1u);
    for (const ObjectId swarm : swarms) EXPECT_EQ(hand.scene().at(swarm).group, groups.front());
    EXPECT_EQ(hand.parentOf(swarms[1]), groups.front());
    EXPECT_LE(actions, 5);
}

TEST(SceneList, DropsOrderGroupJoinAndHang) {
    Listed hand;
    const auto swarms = hand.swarms(2);
    hand.document().choose(swarms[0]);
    hand.addGesture("wave");
    hand.addGesture("tumble");
    const ObjectId wave = hand.scene().named(ObjectType::gesture, "Wave"), tumble = hand.scene().named(ObjectType::gesture, "Tumble");
    hand.document().choose(wave);
    hand.settle();
    hand.click("addZone-ball");
    const ObjectId zone = hand.scene().all(ObjectType::zone).front();
    hand.drop({zone}, tumble);
    EXPECT_EQ(wovenZones(hand.scene(), tumble), std::vector<ObjectId>{zone});
    // Between the cards: the order of the rail.
    hand.drop({tumble}, wave, 0.05);
    const auto& rail = hand.scene().at(swarms[0]).list("rail");
    EXPECT_EQ(referenceOf(hand.scene().at(rail.front()).part("entry"), "gesture"), tumble);
    // Between swarms: their order.
    hand.drop({swarms[1]}, swarms[0], 0.05);
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).front(), swarms[1]);
    // On a mount: hangs from it, and stays where it was.
    const ObjectId mount = hand.document().edit(addMount);
    hand.settle();
    hand.drop({swarms[1]}, mount);
    EXPECT_EQ(referenceOf(hand.scene().at(swarms[1]).part("hang"), "from"), mount);
    // On a swarm a shape is repeated too.
    const ObjectId ball = hand.document().edit([](const Scene& s) { return addShape(s, *findKind(Family::shape, "ball")); });
    hand.settle();
    hand.drop({ball}, swarms[0]);
    EXPECT_EQ(hand.scene().at(swarms[0]).list("stock").size(), 2u);
}

TEST(SceneList, TheMenuOffersWhatCanBeDoneAndKeysDoIt) {
    Listed hand;
    hand.click("newSwarm");
    hand.addGesture("wave");
    const ObjectId swarm = hand.document().swarm();
    hand.select(swarm);
    Hand::answerMenu("Duplicate");
    QContextMenuEvent ask(QContextMenuEvent::Mouse, hand.at(swarm), hand.list().viewport()->mapToGlobal(hand.at(swarm)));
    QApplication::sendEvent(hand.list().viewport(), &ask);
    hand.settle();
    ASSERT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u);
    EXPECT_EQ(hand.scene().all(ObjectType::gesture).size(), 2u) << "the copy has gestures of its own";
    hand.key(Qt::Key_D, Qt::ControlModifier);
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 3u);
    hand.list().setFocus();
    QTest::keyClick(&hand.list(), Qt::Key_Delete);
    hand.settle();
    EXPECT_EQ(hand.scene().all(ObjectType::swarm).size(), 2u);
}

TEST(SceneList, ThePlusAddsEveryShapeWithItsPicture) {
    Listed hand;
    hand.click("newSwarm");
    hand.click("addThing");
    auto* gallery = hand.window().findChild<QWidget*>("addGallery");
    ASSERT_NE(gallery, nullptr);
    for (const Kind* kind : kindsOf(Family::shape))
        EXPECT_NE(gallery->findChild<QAbstractButton*>("add-shape-" + QString::fromStdString(kind->id)), nullptr) << kind->id;
    auto* cone = gallery->findChild<QAbstractButton*>("add-shape-cone");
    // Its picture is the shape, not the mark that stands for one that is not made yet.
    const qint64 before = cone->icon().cacheKey();
    EXPECT_TRUE(hand.eventually([&] { return cone->icon().cacheKey() != before; }));
    const QImage picture = cone->icon().pixmap(cone->iconSize()).toImage();
    int bright = 0;
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) bright += qGray(picture.pixel(x, y)) > 60;
    EXPECT_GT(bright, picture.width() * picture.height() / 20) << "the cone is seen";
    EXPECT_LT(bright, picture.width() * picture.height() * 9 / 10) << "and something beside it";
    QTest::mouseClick(cone, Qt::LeftButton);
    hand.settle();
    EXPECT_EQ(hand.scene().at(hand.document().chosen()).part("maker").kind->id, "cone");
}
