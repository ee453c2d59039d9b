// The picture by mouse: choosing instances, handles of every zone, keyed places, the camera.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <QTest>

#include "app/picture/handles.h"
#include "app/picture/hit.h"
#include "app/picture/picture.h"
#include "app/theme/theme.h"
#include "core/edit/edit.h"
#include "core/edit/key_edits.h"
#include "core/edit/rail_edits.h"
#include "core/flow/home_plan.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/placing.h"
#include "core/read/table.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "core/zone/zone_kind.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

glm::vec3 placeOf(const Result& result, int row) {
    const float* m = result.columns->matrix.data() + 12 * static_cast<std::size_t>(row);
    return {m[3], m[7], m[11]};
}

QPointF onScreen(Hand& hand, int row) {
    Picture& picture = hand.window().picture();
    return *picture.view().project(placeOf(*hand.result(), row), picture.size());
}

std::uint64_t idOf(Hand& hand, std::uint32_t row) { return idsOfRows(hand.result()->home, {row}).front(); }

/// A swarm of few boxes that stand far apart, so that none hides another.
void scatterBoxes(Hand& hand) {
    hand.click("newSwarm");
    hand.click(hand.card("Formation"), QPoint(40, 30));
    hand.typeNumber("count", "4", 0);
    hand.typeNumber("count", "4", 2);
    hand.choose("measure", "Overall size");
    hand.typeNumber("overall", "12", 0);
    hand.typeNumber("overall", "12", 2);
    hand.window().picture().setFocus();
    hand.key(Qt::Key_F);
    ASSERT_EQ(hand.result()->count, 16);
}

/// All numbers of a zone: its place and its form, by name.
std::map<std::string, std::vector<double>> numbersOf(const Scene& scene, ObjectId zone) {
    std::map<std::string, std::vector<double>> all;
    for (const Part& part : scene.at(zone).parts)
        for (std::size_t p = 0; p < part.values.size(); ++p)
            if (const auto* numbers = std::get_if<Numbers>(&part.values[p]))
                for (const Track& track : *numbers) all[part.kind->parameters[p].id].push_back(valueAt(scene, track, 0));
    return all;
}

/// A gesture with a zone of that kind at work, whose handles are shown.
ObjectId workWithZone(Hand& hand, const Kind& kind) {
    Document& document = hand.window().document();
    ObjectId gesture = document.edit([&](const Scene& s) {
        return addGesture(s, document.swarm(), standardObject(ObjectType::gesture, "Works", {&changeGesture, &steadyPattern}));
    });
    const ObjectId zone = document.edit([&](const Scene& s) { return addZone(s, gesture, kind); });
    document.choose(zone);
    hand.settle();
    return zone;
}

}  // namespace

TEST(PictureWindow, AClickChoosesControlAddsAndABandTakesWhatItSurrounds) {
    Hand hand;
    scatterBoxes(hand);
    Picture& picture = hand.window().picture();
    const Session& session = hand.window().document().session();
    hand.click(&picture, onScreen(hand, 5).toPoint());
    EXPECT_EQ(session.instances().ids, std::vector<std::uint64_t>{idOf(hand, 5)});
    QTest::mouseClick(&picture, Qt::LeftButton, Qt::ControlModifier, onScreen(hand, 10).toPoint());
    hand.settle();
    EXPECT_EQ(session.instances().ids.size(), 2u);
    EXPECT_TRUE(session.instances().contains(idOf(hand, 10)));
    QTest::mouseClick(&picture, Qt::LeftButton, Qt::ControlModifier, onScreen(hand, 5).toPoint());
    hand.settle();
    EXPECT_EQ(session.instances().ids, std::vector<std::uint64_t>{idOf(hand, 10)});

    // A band around the first row takes what stands in it and nothing else.
    std::vector<std::uint64_t> inside;
    QRectF band(onScreen(hand, 0), onScreen(hand, 1));
    band = band.normalized().adjusted(-6, -6, 6, 6);
    for (int row = 0; row < 16; ++row)
        if (band.contains(onScreen(hand, row))) inside.push_back(idOf(hand, static_cast<std::uint32_t>(row)));
    std::sort(inside.begin(), inside.end());
    ASSERT_GE(inside.size(), 2u);
    ASSERT_LT(inside.size(), 16u);
    hand.drag(&picture, band.topLeft(), band.bottomRight() - band.topLeft());
    EXPECT_EQ(session.instances().ids, inside);
    // With Control the band adds to them.
    hand.drag(&picture, onScreen(hand, 15) - QPointF(8, 8), QPointF(16, 16), Qt::LeftButton, Qt::ControlModifier);
    EXPECT_EQ(session.instances().ids.size(), inside.size() + 1);
    EXPECT_TRUE(session.instances().contains(idOf(hand, 15)));

    // All, and none by a click where nothing is.
    hand.key(Qt::Key_A, Qt::ControlModifier);
    EXPECT_EQ(session.instances().ids.size(), 16u);
    hand.click(&picture, QPoint(picture.width() - 12, picture.height() - 60));
    EXPECT_TRUE(session.instances().ids.empty());
    // None of this is an edit.
    EXPECT_EQ(hand.window().document().history().undoLabel().find("choose"), std::string::npos);
}

TEST(PictureWindow, ManyChosenAreMarkedByDots) {
    Hand hand;
    hand.click("newSwarm");
    hand.click(hand.card("Formation"), QPoint(40, 30));
    for (const int c : {0, 2}) {
        hand.typeNumber("count", "20", c);
        hand.typeNumber("spacing", "2", c);
    }
    Picture& picture = hand.window().picture();
    picture.setFocus();
    hand.key(Qt::Key_F);
    const auto ivoryAt = [&](const QImage& image, int row) {
        const QColor colour = image.pixelColor(onScreen(hand, row).toPoint());
        return colour == theme::ivory;
    };
    hand.key(Qt::Key_A, Qt::ControlModifier);
    ASSERT_EQ(hand.window().document().session().instances().ids.size(), 400u);
    const QImage all = picture.grab().toImage();
    int marked = 0;
    for (int row = 0; row < 400; ++row) marked += ivoryAt(all, row);
    EXPECT_GT(marked, 380);  // but for those under a bar or a handle
    hand.click(&picture, QPoint(picture.width() - 12, picture.height() - 60));
    const QImage none = picture.grab().toImage();
    for (int row = 0; row < 400; ++row) EXPECT_FALSE(ivoryAt(none, row)) << row;
}

TEST(PictureWindow, EveryZonesHandlesChangeTheNumberTheyName) {
    int dragged = 0;
    Hand hand;
    hand.click("newSwarm");
    Picture& picture = hand.window().picture();
    for (const Kind* kind : kindsOf(Family::zone)) {
        const auto& zoneKind = static_cast<const ZoneKind&>(*kind);
        if (!zoneKind.handles) continue;
        const ObjectId zone = workWithZone(hand, *kind);
        picture.setFocus();
        hand.key(Qt::Key_F);
        hand.key(Qt::Key_3);
        const auto handles = handles::handlesOf(hand.scene(), zone, 0, handles::Mode::size, 1, hand.window().document().store());
        ASSERT_FALSE(handles.empty()) << kind->id;
        for (const auto& handle : handles) {
            const auto before = numbersOf(hand.scene(), zone);
            const auto at = picture.view().project(handle.place, picture.size());
            const auto further = picture.view().project(handle.place + handle.along * 0.1f, picture.size());
            ASSERT_TRUE(at && further) << kind->id << ' ' << handle.name.toStdString();
            const QPointF way = *further - *at;
            const double length = std::hypot(way.x(), way.y());
            if (length < 1.5 || !picture.rect().contains(at->toPoint())) continue;  // straight toward the eye
            // 30 pixels along the handle's line are so many metres there.
            const double metres = 30 / (length * 10);
            hand.drag(&picture, *at, way * (30 / length));
            auto after = numbersOf(hand.scene(), zone);
            const std::size_t component = handle.component < 0 ? 0 : static_cast<std::size_t>(handle.component);
            double& changed = after[handle.parameter][component];
            const double was = before.at(handle.parameter)[component];
            EXPECT_NEAR(changed - was, metres * handle.perMetre, std::abs(metres * handle.perMetre) * 0.05 + 0.002)
                << kind->id << ' ' << handle.name.toStdString();
            changed = was;
            EXPECT_EQ(after, before) << kind->id << ' ' << handle.name.toStdString() << " changed another number too";
            hand.key(Qt::Key_Z, Qt::ControlModifier);
            EXPECT_EQ(numbersOf(hand.scene(), zone), before) << "one drag, one step";
            ++dragged;
        }
    }
    EXPECT_GE(dragged, 10);
}

TEST(PictureWindow, AFreeHandleStaysUnderThePointer) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId zone = workWithZone(hand, ballZone);
    Picture& picture = hand.window().picture();
    picture.setFocus();
    hand.key(Qt::Key_1);
    const QPointF from = *picture.handlePlace("free"), gone(70, -40);
    const float depth = glm::length(zoneStateAt(hand.scene(), hand.scene().at(zone), 0, hand.window().document().store()).position -
                                    picture.view().camera().position);
    hand.drag(&picture, from, gone);
    const glm::vec3 now = zoneStateAt(hand.scene(), hand.scene().at(zone), 0, hand.window().document().store()).position;
    const QPointF shown = *picture.view().project(now, picture.size());
    EXPECT_NEAR(shown.x(), from.x() + gone.x(), 1.5);
    EXPECT_NEAR(shown.y(), from.y() + gone.y(), 1.5);
    EXPECT_NEAR(glm::length(now - picture.view().camera().position), depth, depth * 0.02);
}

TEST(PictureWindow, DraggingAKeyedZoneKeysThisFrameAndShowsItsWay) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId zone = workWithZone(hand, ballZone);
    Document& document = hand.window().document();
    Picture& picture = hand.window().picture();
    EXPECT_TRUE(handles::path(hand.scene(), zone, 0, 20, hand.window().document().store()).empty());
    picture.setFocus();
    hand.key(Qt::Key_K, Qt::ShiftModifier);  // the place of what has handles
    document.setFrame(20);
    hand.settle();
    hand.key(Qt::Key_1);
    const double before = numbersOf(hand.scene(), zone)["position"][0];
    hand.drag(&picture, *picture.handlePlace("x"), QPointF(60, 20));
    const Track x = std::get<Numbers>(valueOf(hand.scene(), addressOf(hand.scene(), zone, "position")))[0];
    ASSERT_TRUE(x.keyed());
    ASSERT_EQ(x.keys->size(), 2u);
    EXPECT_EQ((*x.keys)[0].frame, 0);
    EXPECT_EQ((*x.keys)[0].value, before);
    EXPECT_EQ((*x.keys)[1].frame, 20);
    EXPECT_GT((*x.keys)[1].value, before + 0.1);
    // The way is what the zone goes, frame by frame.
    const auto way = handles::path(hand.scene(), zone, 0, 20, hand.window().document().store());
    ASSERT_EQ(way.size(), 21u);
    for (int f = 0; f <= 20; ++f)
        EXPECT_EQ(way[static_cast<std::size_t>(f)],
                  zoneStateAt(hand.scene(), hand.scene().at(zone), f, hand.window().document().store()).position)
            << f;
}

TEST(PictureWindow, TurnsAreTypedDraggedAndKeptBeyondAWholeTurn) {
    Hand hand;
    hand.click("newSwarm");
    const ObjectId zone = workWithZone(hand, boxZone);
    Picture& picture = hand.window().picture();
    picture.setFocus();
    hand.key(Qt::Key_2);
    hand.drag(&picture, *picture.handlePlace("y"), QPointF(100, 0));
    EXPECT_NEAR(numbersOf(hand.scene(), zone)["rotation"][1], 50, 0.01);
    hand.typeNumber("rotation", "350", 1);
    hand.drag(&picture, *picture.handlePlace("y"), QPointF(60, 0));
    EXPECT_NEAR(numbersOf(hand.scene(), zone)["rotation"][1], 380, 0.01);  // no whole turn is lost
    EXPECT_EQ(numbersOf(hand.scene(), zone)["rotation"][0], 0);
}

TEST(PictureWindow, TheCameraIsPutWhereTheViewIsAndLookedThroughAgain) {
    Hand hand;
    scatterBoxes(hand);
    Picture& picture = hand.window().picture();
    hand.drag(&picture, QPointF(300, 200), QPointF(90, -30), Qt::RightButton);
    const glm::vec3 eye = picture.view().camera().position;
    picture.cameraFromView();
    hand.settle();
    const ObjectId camera = hand.scene().all(ObjectType::camera).front();
    for (int c = 0; c < 3; ++c)
        EXPECT_NEAR(numberAt(hand.scene(), hand.scene().at(camera).part("camera"), "position", 0, c), eye[c], 0.01) << c;
    const QPointF before = onScreen(hand, 3);
    hand.drag(&picture, QPointF(300, 200), QPointF(-200, 60), Qt::RightButton);
    EXPECT_GT(QLineF(onScreen(hand, 3), before).length(), 20);
    hand.key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_LT(QLineF(onScreen(hand, 3), before).length(), 3);
}

namespace {

/// One large card seen from above, and the mean of what the view shows in its middle, 0 … 1 as on screen.
struct CardView {
    Hand hand;
    ObjectId material;
    CardView() {
        hand.click("newSwarm");
        const ObjectId swarm = hand.window().document().swarm(), shape = hand.scene().all(ObjectType::shape).front();
        material = hand.scene().all(ObjectType::material).front();
        hand.window().document().edit([&](const Scene& s) { return setKind(s, shape, "maker", *findKind(Family::shape, "card")); });
        set(shape, "width", {20}), set(shape, "depth", {20});
        set(hand.scene().at(swarm).list("formations").front(), "count", {1, 1, 1});
        set(hand.scene().project().id, "background", {0, 0, 0, 1});
        const ObjectId sun = hand.scene().named(ObjectType::light, "Sun"), light = hand.scene().named(ObjectType::light, "Sky"),
                       camera = hand.scene().all(ObjectType::camera).front();
        hand.window().document().edit([&](const Scene& s) { return setValue(s, addressOf(s, light, "ground"), false); });
        set(sun, "strength", {0}), set(light, "strength", {1});
        for (const char* sky : {"zenith", "horizon"}) set(light, sky, {1, 1, 1, 1});
        set(camera, "position", {0, 6, 0.01}), set(camera, "target", {0, 0, 0});
        hand.window().picture().lookThroughCamera();
    }
    void set(ObjectId object, const char* parameter, std::initializer_list<double> values) {
        hand.window().document().setValue(addressOf(hand.scene(), object, parameter), fixedNumbers(values));
    }
    double middle() {
        hand.settle();
        QTest::qWait(400);
        const QImage image = hand.window().picture().grab().toImage();
        double sum = 0;
        for (int k = -5; k <= 5; ++k) sum += qGray(image.pixel(image.width() / 2 + 9 * k + 40, image.height() / 2 + 30)) / 255.0;
        return sum / 11;
    }
};

}  // namespace

TEST(PictureWindow, ShadingFollowsMetalRoughnessAndOpacityInNumbers) {
    CardView view;
    const double grey = srgbFromLinear(0.5);
    view.set(view.material, "colour", {grey, grey, grey, 1});
    view.set(view.material, "roughness", {1});
    const double opaque = view.middle();
    EXPECT_GT(opaque, 0.4);
    EXPECT_LT(opaque, 0.85);
    // Half opaque over black is half as bright as on screen, where the view blends.
    view.set(view.material, "colour", {grey, grey, grey, 0.5});
    EXPECT_NEAR(view.middle(), opaque * 128 / 255, 0.03);
    view.set(view.material, "colour", {grey, grey, grey, 0});
    EXPECT_LT(view.middle(), 0.02);
    view.set(view.material, "colour", {grey, grey, grey, 1});
    // A smooth metal mirrors a dark zenith, a matt surface still has the light from the sides.
    const ObjectId light = view.hand.scene().named(ObjectType::light, "Sky");
    view.set(light, "zenith", {0, 0, 0, 1});
    const double matt = view.middle();
    view.set(view.material, "metal", {1}), view.set(view.material, "roughness", {0.05});
    EXPECT_LT(view.middle(), matt - 0.1);
}
