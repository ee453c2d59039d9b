// The work view Look: the traced picture, its divider, a part of it, what was kept, and the tray of materials.
#include <gtest/gtest.h>

#include <QLabel>
#include <QTest>
#include <QToolButton>

#include "app/document/application.h"
#include "app/picture/picture.h"
#include "app/picture/traced_view.h"
#include "app/picture/view_choices.h"
#include "core/arrange/camera_edit.h"
#include "core/edit/material_edits.h"
#include "core/material/material_kind.h"
#include "core/provide/placing.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Looking : Hand {
    Looking() {
        click("newSwarm");
        settle();
        key(Qt::Key_F6);
    }
    TracedView& traced() { return window().picture().traced(); }
    Picture& view() { return window().picture(); }
    bool whole() {
        return eventually([&] { return !traced().picture().isNull() && !traced().state().coarse && traced().state().samples > 0; });
    }
    QSize viewPixels() { return view().size() * view().devicePixelRatioF(); }
    QColor seenAt(double x, double y) {
        const QImage seen = view().grab().toImage();
        return seen.pixelColor(static_cast<int>(x * seen.width()), static_cast<int>(y * seen.height()));
    }
};

double apart(const QImage& a, const QImage& b) {
    double sum = 0;
    for (int y = 0; y < a.height(); y += 3)
        for (int x = 0; x < a.width(); x += 3) {
            const QColor p = a.pixelColor(x, y), q = b.pixelColor(x, y);
            sum += std::abs(p.lightness() - q.lightness());
        }
    return sum * 9 / (a.width() * a.height());
}

}  // namespace

TEST(TracedWindow, ShowsTheTracedPictureAndRefinesIt) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    EXPECT_EQ(hand.traced().picture().size(), hand.viewPixels());
    const int before = hand.traced().state().samples;
    EXPECT_TRUE(hand.eventually([&] { return hand.traced().state().samples > before; }));
    EXPECT_GT(hand.traced().state().raysPerSecond, 0);
    EXPECT_TRUE(hand.find<QLabel>("lookTold")->text().contains("samples"));
    // Back in Compose nothing goes on.
    hand.key(Qt::Key_F5);
    EXPECT_FALSE(hand.traced().shown());
    EXPECT_TRUE(hand.eventually([&] { return hand.traced().settled(); }));
    EXPECT_FALSE(hand.find<QLabel>("lookTold"));
}

TEST(TracedWindow, AnEditStartsItAnewWithWhatChanged) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    const QImage before = hand.traced().picture();
    const ObjectId stock = hand.scene().at(hand.window().document().swarm()).list("stock").front();
    hand.window().document().choose(materialOf(hand.scene(), stock));
    hand.settle();
    hand.typeNumber("roughness", "0.05");
    hand.typeNumber("metal", "1");
    hand.settle();
    ASSERT_TRUE(hand.eventually([&] { return apart(before, hand.traced().picture()) > 2; }));
}

TEST(TracedWindow, WhatComesAfterKeepsTheSamples) {
    Looking hand;
    ASSERT_TRUE(hand.eventually([&] { return hand.traced().state().samples > 4; }));
    hand.click("lookAfter");
    EXPECT_EQ(hand.window().document().chosen(), hand.scene().project().id);
    const int had = hand.traced().state().samples;
    const QImage before = hand.traced().picture();
    hand.typeNumber("after-vignette", "90");
    ASSERT_TRUE(hand.eventually([&] { return apart(before, hand.traced().picture()) > 1; }));
    EXPECT_GE(hand.traced().state().samples, had) << "no sample is taken again";
}

TEST(TracedWindow, TheDividerComparesWithTheLivePicture) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    EXPECT_FALSE(hand.traced().showsLive());
    const double width = hand.view().width(), y = 60;
    hand.drag(&hand.view(), {width - 2, y}, {-width / 2, 0});
    EXPECT_NEAR(hand.traced().divider(), 0.5, 0.02);
    EXPECT_TRUE(hand.traced().showsLive());
    hand.settle();
    // Left of it stands what was traced.
    const QImage traced = hand.traced().picture();
    const QColor left = traced.pixelColor(traced.width() / 4, traced.height() / 8);
    EXPECT_NEAR(hand.seenAt(0.25, 0.125).lightness(), left.lightness(), 3);
}

TEST(TracedWindow, APartAloneIsTraced) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    hand.click("lookRegion");
    hand.drag(&hand.view(), {100, 80}, {120, 90});
    EXPECT_TRUE(hand.traced().hasRegion());
    ASSERT_TRUE(hand.eventually([&] { return hand.traced().state().part.width() > 0 && hand.traced().state().samples > 0; }));
    EXPECT_NEAR(hand.traced().state().part.width(), 120 * hand.view().devicePixelRatioF(), 2);
    hand.click("lookRegion");
    EXPECT_FALSE(hand.traced().hasRegion());
    EXPECT_TRUE(hand.eventually([&] { return hand.traced().state().part.isEmpty() && hand.traced().state().samples > 0; }));
}

TEST(TracedWindow, AKeptPictureIsComparedWith) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    EXPECT_FALSE(hand.find<QToolButton>("lookCompare")->isEnabled());
    hand.click("lookKeep");
    hand.click("lookCompare");
    EXPECT_TRUE(hand.traced().comparesWithKept());
    EXPECT_NEAR(hand.traced().divider(), 0.5, 0.01);
    hand.click("lookFilter");
    EXPECT_FALSE(hand.traced().filters());
    EXPECT_TRUE(hand.eventually([&] { return hand.traced().state().samples > 0; }));
    hand.click("lookCompare");
    EXPECT_FALSE(hand.traced().comparesWithKept());
}

TEST(TracedWindow, AKeptSceneIsTracedWithoutACameraThatCameLater) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    Document& document = hand.window().document();
    document.session().keep(document.scene());
    const int faults = Application::instance()->faults();
    // A camera where the view is: the view looks through it from then on.
    const ObjectId camera = document.edit([&](const Scene& s) { return addCamera(s, hand.view().view().camera()); });
    document.choose(camera);
    hand.view().setView(ViewCamera::from(cameraAt(document.scene(), camera, document.frame(), document.store())));
    hand.settle();
    document.session().compare(true);
    ASSERT_TRUE(hand.eventually([&] { return hand.traced().settled() || hand.traced().state().samples > 1; }));
    hand.window().resize(hand.window().width() - 40, hand.window().height());
    hand.settle();
    EXPECT_TRUE(hand.eventually([&] { return hand.traced().picture().size() == hand.viewPixels(); }));
    EXPECT_EQ(Application::instance()->faults(), faults);
    document.session().compare(false);
    EXPECT_TRUE(hand.whole());
}

TEST(TracedWindow, AMaterialFromTheTrayIsPutOnWhatLiesUnderThePointer) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    hand.click("addMaterial");
    hand.click("material-foil");
    const ObjectId foil = hand.window().document().chosen();
    ASSERT_EQ(foil.type(), ObjectType::material);
    const ObjectId stock = hand.scene().at(hand.window().document().swarm()).list("stock").front();
    EXPECT_NE(materialOf(hand.scene(), stock), foil) << "it is there, nobody wears it yet";
    hand.click("tray-1");
    EXPECT_EQ(hand.window().document().chosen(), materialOf(hand.scene(), stock));
    ASSERT_TRUE(hand.drop({foil}, &hand.view(), QPointF(hand.view().width() / 2.0, hand.view().height() * 0.55)));
    EXPECT_TRUE(hand.eventually([&] { return materialOf(hand.scene(), stock) == foil; }));
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NE(materialOf(hand.scene(), stock), foil);
}

TEST(TracedWindow, AClickSelectsTheInstanceThatIsSeen) {
    Looking hand;
    ASSERT_TRUE(hand.whole());
    QTest::mouseClick(&hand.view(), Qt::LeftButton, {}, QPoint(hand.view().width() / 2, static_cast<int>(hand.view().height() * 0.55)));
    EXPECT_EQ(hand.window().document().session().instances().ids.size(), 1u);
}

TEST(TracedWindow, ATileShowsItsMaterialAsItIsAlsoAfterUndo) {
    Looking hand;
    hand.click("tray-1");
    const auto middle = [&] {
        const QImage seen = hand.find<QToolButton>("tray-1")->icon().pixmap(88, 42).toImage();
        return seen.isNull() ? QColor() : seen.pixelColor(seen.width() / 2, seen.height() / 2);
    };
    ASSERT_TRUE(hand.eventually([&] { return middle().alpha() == 255 && middle().lightness() > 60; })) << "clay is light";
    const QColor clay = middle();
    hand.window().document().edit([&](const Scene& s) {
        return setValue(s, addressOf(s, hand.window().document().chosen(), "colour"), fixedNumbers({0.01, 0.01, 0.01, 1}));
    });
    ASSERT_TRUE(hand.eventually([&] { return middle().lightness() < clay.lightness() - 40; }));
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.eventually([&] { return middle() == clay; })) << "the picture that was made before is shown again";
}
