// Cameras in the window: added, cut to, held to the view; the size of pictures.
#include <gtest/gtest.h>

#include <glm/geometric.hpp>

#include <QApplication>
#include <QContextMenuEvent>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/picture/picture.h"
#include "app/settings/parameter_row.h"
#include "app/tour/tour.h"
#include "core/edit/key_edits.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Filming : Hand {
    Filming() { click("newSwarm"); }
    Document& document() { return window().document(); }
    std::vector<ObjectId> cameras() { return scene().all(ObjectType::camera); }
    Camera camera(ObjectId id) { return cameraAt(scene(), id, document().frame(), document().store()); }
    void look(const glm::vec3& target, float around) {
        ViewCamera view = window().picture().view();
        view.target = target, view.around = around;
        window().picture().setView(view);
        settle();
    }
};

}  // namespace

TEST(CameraWindow, AProjectThatIsOpenedAtOnceIsSeenThroughItsCamera) {
    // As when the program is started with a file: the empty project is still being evaluated.
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.openFile(tidalFloor);
    ASSERT_TRUE(tour::settle(window));
    const Document& document = window.document();
    const Camera wanted = settingAt(document.scene(), document.frame(), document.store()).camera;
    const Camera seen = window.picture().view().camera();
    EXPECT_LT(glm::length(seen.position - wanted.position), 1e-3f * glm::length(wanted.position));
}

TEST(CameraWindow, AnotherOneIsAddedWhereTheViewIsAndCutTo) {
    Filming hand;
    hand.look({1, 0, 2}, 2.5f);
    const glm::vec3 eye = hand.window().picture().view().camera().position;
    hand.click("addThing");
    hand.click("add-camera");
    ASSERT_EQ(hand.cameras().size(), 2u);
    const ObjectId first = hand.cameras()[0], second = hand.cameras()[1];
    EXPECT_EQ(hand.document().chosen(), second);
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(hand.camera(second).position[c], eye[c], 2e-3) << c;
    hand.document().setFrame(30);
    hand.settle();
    hand.key(Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(QApplication::activePopupWidget()->focusWidget(), "cut to the selected camera");
    hand.key(Qt::Key_Return);
    EXPECT_EQ(cameraOn(hand.scene(), 29), first);
    EXPECT_EQ(cameraOn(hand.scene(), 30), second);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(cameraOn(hand.scene(), 30), first) << "one step";
}

TEST(CameraWindow, ASwitchIsKeyedByItsMenu) {
    Filming hand;
    const ObjectId camera = hand.cameras().front();
    hand.document().choose(camera);
    hand.document().setFrame(12);
    hand.settle();
    const auto keyByMenu = [&] {
        auto* box = hand.find<ParameterRow>("on")->findChild<Switch*>();
        Hand::answerMenu("Key here");
        const QPoint middle = box->rect().center();
        QContextMenuEvent menu(QContextMenuEvent::Mouse, middle, box->mapToGlobal(middle));
        QApplication::sendEvent(box, &menu);
        hand.settle();
    };
    const auto keys = [&] {
        const auto* numbers = std::get_if<Numbers>(&valueOf(hand.scene(), addressOf(hand.scene(), camera, "on")));
        return numbers && numbers->front().keys ? numbers->front().keys->size() : 0;
    };
    keyByMenu();
    ASSERT_EQ(keys(), 1u);
    EXPECT_EQ(std::get<Numbers>(valueOf(hand.scene(), addressOf(hand.scene(), camera, "on"))).front().keys->front().frame, 12);
    keyByMenu();
    EXPECT_EQ(keys(), 0u);
}

TEST(CameraWindow, HeldToTheViewItGoesAlongAndTheViewFollowsItsKeys) {
    Filming hand;
    Picture& view = hand.window().picture();
    const ObjectId camera = hand.cameras().front();
    hand.click("lookThroughCamera");
    hand.click("holdCamera");
    const Camera before = hand.camera(camera);
    hand.drag(&view, {300, 200}, {80, 20}, Qt::RightButton);
    const Camera moved = hand.camera(camera);
    EXPECT_GT(glm::length(moved.position - before.position), 0.3f);
    EXPECT_LT(glm::length(moved.position - view.view().camera().position), 2e-2f) << "view and camera are one";
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_LT(glm::length(hand.camera(camera).position - before.position), 1e-3f) << "a drag is one step";
    EXPECT_LT(glm::length(view.view().camera().position - before.position), 2e-2f) << "and the view goes back with it";
    // Keyed, it takes the view along from frame to frame.
    for (int c = 0; c < 3; ++c) hand.document().edit([&](const Scene& s) { return toggleKey(s, addressOf(s, camera, "position", c), 0); });
    hand.document().setFrame(40);
    hand.settle();
    hand.document().edit([&](const Scene& s) { return setNumber(s, addressOf(s, camera, "position", 0), 12, 40); });
    hand.settle();
    EXPECT_NEAR(view.view().camera().position.x, 12, 0.02);
    hand.document().setFrame(0);
    hand.settle();
    EXPECT_NEAR(view.view().camera().position.x, before.position.x, 0.02);
    // Let go, the view is free again.
    hand.click("holdCamera");
    hand.look({0, 0, 0}, 0);
    EXPECT_LT(glm::length(hand.camera(camera).position - before.position), 1e-3f);
}

TEST(CameraWindow, TheSizeOfPicturesIsTheProjectsWhereverItIsTyped) {
    Filming hand;
    hand.document().choose(hand.scene().project().id);
    hand.settle();
    hand.typeNumber("pictureWidth", "900");
    hand.typeNumber("pictureHeight", "900");
    hand.window().showWorkView("Export");
    hand.settle();
    auto* width = hand.find<NumberField>("exportWidth");
    ASSERT_NE(width, nullptr);
    EXPECT_EQ(width->value(), 900);
    hand.document().edit([&](const Scene& s) { return setValue(s, addressOf(s, s.project().id, "pictureWidth"), fixedNumbers({640})); });
    hand.settle();
    EXPECT_EQ(width->value(), 640);
}
