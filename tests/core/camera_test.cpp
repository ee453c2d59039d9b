// The camera: where it is put, what it hangs from, what can't be deleted.
#include <gtest/gtest.h>

#include <algorithm>
#include <glm/geometric.hpp>
#include <tuple>

#include "core/arrange/camera_edit.h"
#include "core/arrange/hang.h"
#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/edit/key_edits.h"
#include "core/exchange/exporter_kind.h"
#include "core/kinds/registry.h"
#include "core/picture/display.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;

namespace {

const Camera there{.on = true,
                   .position = {3, 4.5f, -2},
                   .target = {0.25f, 1, 0.5f},
                   .looksAt = LooksAt::place,
                   .thing = {},
                   .lag = 0,
                   .projection = Projection::perspective,
                   .focalLength = 85,
                   .width = 10,
                   .nearCut = 0,
                   .farCut = 0,
                   .focus = Focus::everything,
                   .focusDistance = 8,
                   .fNumber = 2.8f,
                   .blurs = false,
                   .shutter = 50,
                   .opens = ShutterOpens::around};

void expectAt(const Camera& is, const Camera& wanted) {
    EXPECT_LT(glm::length(is.position - wanted.position), 2e-3f);
    EXPECT_LT(glm::length(is.target - wanted.target), 2e-3f);
    EXPECT_FLOAT_EQ(is.focalLength, wanted.focalLength);
}

ObjectId firstCamera(const Scene& scene) { return scene.all(ObjectType::camera).front(); }

}  // namespace

TEST(Camera, IsPutThereInOneStep) {
    const Scene before = emptyScene();
    const Edit edit = putCamera(before, firstCamera(before), there, 0, making::store());
    expectAt(cameraAt(edit.scene, firstCamera(edit.scene), 0, making::store()), there);
    EXPECT_EQ(edit.label, "Camera to the view");
    EXPECT_FALSE(edit.mergeKey.empty());  // a camera that goes along with the view is one step
    EXPECT_EQ(edit.scene.all(ObjectType::camera).size(), 1u);
    EXPECT_FALSE(edit.made);
}

TEST(Camera, AKeyedOneGetsAKeyAtThatFrame) {
    Scene scene = emptyScene();
    const ObjectId camera = firstCamera(scene);
    for (int c = 0; c < 3; ++c) scene = toggleKey(scene, addressOf(scene, camera, "position", c), 0).scene;
    const Camera start = cameraAt(scene, camera, 0, making::store());
    scene = putCamera(scene, firstCamera(scene), there, 40, making::store()).scene;
    expectAt(cameraAt(scene, camera, 40, making::store()), there);
    EXPECT_EQ(cameraAt(scene, camera, 0, making::store()).position, start.position);
    const auto& position = std::get<Numbers>(valueOf(scene, addressOf(scene, camera, "position")));
    for (const Track& track : position) {
        ASSERT_TRUE(track.keyed());
        EXPECT_EQ(track.keys->size(), 2u);
    }
}

TEST(Camera, AHungOneStandsThereInTheWorld) {
    Edit edit = addMount(emptyScene());
    const ObjectId mount = edit.made;
    Scene scene = edit.scene;
    for (const auto& [number, component, value] : {std::tuple{"position", 0, 5.0}, {"position", 1, -2.0}, {"rotation", 1, 120.0}})
        scene = setNumber(scene, addressOf(scene, mount, number, component), value, 0).scene;
    scene = hang(scene, firstCamera(scene), mount, 0, making::store()).scene;
    scene = putCamera(scene, firstCamera(scene), there, 0, making::store()).scene;
    expectAt(cameraAt(scene, firstCamera(scene), 0, making::store()), there);
    // It goes along with the mount.
    scene = setNumber(scene, addressOf(scene, mount, "position", 0), 7, 0).scene;
    EXPECT_NEAR(cameraAt(scene, firstCamera(scene), 0, making::store()).position.x, there.position.x + 2, 2e-3);
}

TEST(Camera, AnotherOneIsOffUntilItIsCutTo) {
    Edit edit = addCamera(emptyScene(), there);
    const ObjectId first = firstCamera(edit.scene), second = edit.made;
    expectAt(cameraAt(edit.scene, second, 0, making::store()), there);
    EXPECT_EQ(cameraOn(edit.scene, 0), first) << "pictures are made as before";
    EXPECT_EQ(edit.scene.at(second).name, "Camera 2");
    // Two cuts and one back.
    Scene scene = cutTo(edit.scene, second, 40).scene;
    EXPECT_EQ(cameraOn(scene, 39.9), first);
    EXPECT_EQ(cameraOn(scene, 40), second);
    EXPECT_EQ(cameraOn(scene, 1000), second);
    scene = cutTo(scene, first, 60).scene;
    EXPECT_EQ(cameraOn(scene, 0), first);
    EXPECT_EQ(cameraOn(scene, 59), second);
    EXPECT_EQ(cameraOn(scene, 60), first);
    expectAt(settingAt(scene, 50, making::store()).camera, there);
    // At the beginning, with nothing keyed, a cut is the switch itself.
    scene = cutTo(edit.scene, second, 0).scene;
    EXPECT_EQ(cameraOn(scene, -5), second);
    EXPECT_TRUE(std::holds_alternative<bool>(scene.at(second).part("camera")["on"]));
    // None is on: the first it is.
    scene =
        setValue(setValue(edit.scene, addressOf(edit.scene, first, "on"), false).scene, addressOf(edit.scene, second, "on"), false).scene;
    EXPECT_EQ(cameraOn(scene, 0), first);
    // Without any it is the one that is on.
    Scene none = emptyScene();
    std::erase(none.order, firstCamera(none));
    none.objects.erase(firstCamera(emptyScene()));
    const Edit only = addCamera(none, there);
    EXPECT_TRUE(switchOf(only.scene.at(only.made).part("camera"), "on"));
}

TEST(Camera, LooksToWhereAThingWasSoManyFramesAgo) {
    Edit edit = addMount(emptyScene());
    const ObjectId mount = edit.made, camera = firstCamera(edit.scene);
    Scene scene = edit.scene;
    const Address x = addressOf(scene, mount, "position", 0);
    scene = toggleKey(scene, x, 0).scene;
    scene = setNumber(scene, x, 30, 30).scene;
    scene = setKeyEase(scene, {{x, 0}, {x, 30}}, Ease::linear).scene;
    scene = setValue(scene, addressOf(scene, camera, "looksAt"), std::string("thing")).scene;
    scene = setValue(scene, addressOf(scene, camera, "thing"), mount).scene;
    EXPECT_NEAR(cameraAt(scene, camera, 20, making::store()).target.x, 20, 1e-4);
    scene = setNumber(scene, addressOf(scene, camera, "lag"), 5, 0).scene;
    EXPECT_NEAR(cameraAt(scene, camera, 20, making::store()).target.x, 15, 1e-4);
    scene = setNumber(scene, addressOf(scene, camera, "lag"), -2.5, 0).scene;
    EXPECT_NEAR(cameraAt(scene, camera, 20, making::store()).target.x, 22.5, 1e-4);
    // Put elsewhere it goes on looking there.
    scene = putCamera(scene, camera, there, 20, making::store()).scene;
    EXPECT_NEAR(cameraAt(scene, camera, 20, making::store()).target.x, 22.5, 1e-4);
    EXPECT_NEAR(cameraAt(scene, camera, 20, making::store()).position.x, there.position.x, 1e-3);
    // A thing that is gone leaves the place.
    scene = remove(scene, mount).scene;
    EXPECT_NO_THROW(cameraAt(scene, camera, 20, making::store()));
}

TEST(Camera, PicturesHaveTheSizeOfTheProject) {
    Scene scene = emptyScene();
    EXPECT_NEAR(pictureAspect(scene), 16.0 / 9, 1e-9) << "as before";
    scene = setValue(scene, addressOf(scene, scene.project().id, "pictureWidth"), fixedNumbers({400})).scene;
    scene = setValue(scene, addressOf(scene, scene.project().id, "pictureHeight"), fixedNumbers({800})).scene;
    EXPECT_EQ(pictureAspect(scene), 0.5);
    const Part settings = settingsFor(stillExporter, scene);
    EXPECT_EQ(std::get<Numbers>(settings["width"]).front().value, 400);
    EXPECT_EQ(std::get<Numbers>(settings["height"]).front().value, 800);
    EXPECT_EQ(std::get<Numbers>(settings["samples"]).front().value, 64);
    EXPECT_EQ(settingsFor(csvExporter, scene), standardPart(csvExporter)) << "a table has no size";
}

TEST(Camera, TheLastOneStays) {
    const Scene scene = emptyScene();
    EXPECT_THROW(remove(scene, firstCamera(scene)), Error);
    try {
        remove(scene, firstCamera(scene));
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("move this one"), std::string::npos);
    }
}

namespace {

/// How far bright and dark are apart from one pixel to the next, along the middle row: less where it is blurred.
int sharpness(const Image& image) {
    int most = 0;
    for (int x = 1; x < image.width; ++x) {
        const auto at = [&](int column) { return image.pixels[4 * static_cast<std::size_t>(image.height / 2 * image.width + column)]; };
        most = std::max(most, std::abs(at(x) - at(x - 1)));
    }
    return most;
}

/// A white card against black, five metres in front of the camera.
struct Lens {
    Build b = Build::grid(1, 1, 1);
    ObjectId camera = b.scene.all(ObjectType::camera).front();
    Lens() {
        b.set(b.shape, "size", {2, 2, 0.01}).set(b.shape, "rounding", {0});
        b.set(b.sun(), "strength", {0}).set(b.sky(), "strength", {1}).set(b.sky(), "ground", false);
        for (const char* sky : {"zenith", "horizon"}) b.set(b.sky(), sky, {1, 1, 1, 1});
        b.set(b.scene.project().id, "background", {0, 0, 0, 1}).set(b.material, "colour", {1, 1, 1, 1});
        b.set(camera, "position", {1, 0, 5}).set(camera, "target", {1, 0, 0});
    }
    Image traced(double frame = 0) const {
        Evaluator evaluator(2);
        Progress progress;
        const ExportFrames frames{evaluator, b.scene, {}, frame};
        Tracer tracer;
        return trace(tracer, frames.shot(frame, progress), {60, 9, 64, 1}, progress);
    }
};

}  // namespace

TEST(Camera, WhatIsOutOfFocusIsBlurredAsWideAsTheLensMakesIt) {
    Lens lens;
    const int all = sharpness(lens.traced());
    EXPECT_GT(all, 200);
    lens.b.choose(lens.camera, "focus", "distance").set(lens.camera, "focusDistance", {5}).set(lens.camera, "fNumber", {0.2});
    EXPECT_GT(sharpness(lens.traced()), all - 40) << "it stands where it is sharp";
    lens.b.set(lens.camera, "focusDistance", {2.5});
    EXPECT_LT(sharpness(lens.traced()), all / 2);
    lens.b.set(lens.camera, "fNumber", {22});
    EXPECT_GT(sharpness(lens.traced()), all - 40) << "a small hole makes all sharp";
    lens.b.set(lens.camera, "fNumber", {0.2}).choose(lens.camera, "focus", "target");
    EXPECT_GT(sharpness(lens.traced()), all - 40);
}

TEST(Camera, AnOpenShutterBlursWhatMovesAndWhatItMovesPast) {
    Lens lens;
    lens.b.key(lens.b.swarm, "position", {{-10, -20, Ease::linear}, {10, 20, Ease::linear}});
    const int still = sharpness(lens.traced());
    lens.b.set(lens.camera, "blurs", true).set(lens.camera, "shutter", {50});
    EXPECT_LT(sharpness(lens.traced()), still / 2) << "it goes a metre while the shutter is open";
    lens.b.set(lens.camera, "shutter", {0});
    EXPECT_GT(sharpness(lens.traced()), still - 40);
    // The camera itself moves past a swarm that rests.
    Lens past;
    past.b.set(past.camera, "blurs", true).set(past.camera, "shutter", {50});
    const int rests = sharpness(past.traced());
    past.b.key(past.camera, "position", {{-10, -19, Ease::linear}, {10, 21, Ease::linear}});
    past.b.key(past.camera, "target", {{-10, -19, Ease::linear}, {10, 21, Ease::linear}});
    EXPECT_LT(sharpness(past.traced()), rests / 2);
}

TEST(Camera, ACutWhileTheShutterIsOpenBlendsNothing) {
    Lens lens;
    Camera other{};
    other.position = {50, 0, 5}, other.target = {50, 0, 0}, other.focalLength = 45;
    const Edit added = addCamera(lens.b.scene, other);
    lens.b.scene = cutTo(added.scene, added.made, 10).scene;
    lens.b.set(lens.camera, "blurs", true).set(added.made, "blurs", true);
    EXPECT_GT(sharpness(lens.traced(9)), 200);
    EXPECT_EQ(sharpness(lens.traced(10)), 0) << "nothing is there";
}

TEST(Display, SoftHighlightsKeepWhatAScreenShowsAndBendTheRest) {
    const auto soft = [](float v) { return display(glm::vec3(v), 1, DisplayTransform::soft).x; };
    EXPECT_NEAR(soft(0.3f), display(glm::vec3(0.26f), 1).x, 1e-4) << "but for the little that a surface's polish adds";
    float before = 0;
    for (float v = 0; v < 40; v += 0.05f) {
        EXPECT_GE(soft(v), before);
        EXPECT_LT(soft(v), 1);
        before = soft(v);
    }
    const glm::vec3 red = display({20, 1, 1}, 1, DisplayTransform::soft);
    EXPECT_GT(red.y, 0.5) << "too bright for its colour it goes to white";
}

namespace {

/// Columns of a picture in which a white tile on black is seen, and how wide in all.
struct Stripe {
    int first = -1, count = 0;
};
Stripe seen(const Build& b, int width = 100) {
    Progress progress;
    const Setting setting = settingAt(b.scene, 0, making::store());
    const Image image = trace(drawListOf(std::vector{b.result()}), setting, {width, 9, 16, 1}, progress);
    Stripe stripe;
    for (int x = 0; x < width; ++x) {
        if (image.pixels[static_cast<std::size_t>(4 * (4 * width + x))] < 90) continue;
        if (stripe.first < 0) stripe.first = x;
        ++stripe.count;
    }
    return stripe;
}

/// A white box of a metre at a distance in front of a camera at the middle of the world that looks along −Z.
Build boxAhead(double distance) {
    Build b = Build::grid(1, 1, 1);
    const ObjectId camera = firstCamera(b.scene);
    b.set(b.sky(), "ground", false)
        .set(b.sky(), "strength", {1})
        .set(b.material, "colour", {1, 1, 1, 1})
        .set(b.stock, "foot", std::string("centre"));
    b.set(b.scene.project().id, "background", {0, 0, 0, 1});
    b.set(camera, "position", {0, 0, 0}).set(camera, "target", {0, 0, -1}).set(b.swarm, "position", {0, 0, -distance});
    return b;
}

}  // namespace

TEST(Camera, AParallelOneSeesAsWideAtAnyDistance) {
    for (const double distance : {3.0, 12.0, 80.0}) {
        Build b = boxAhead(distance);
        b.set(firstCamera(b.scene), "projection", std::string("parallel")).set(firstCamera(b.scene), "width", {4});
        const Stripe stripe = seen(b);
        EXPECT_NEAR(stripe.count, 25, 1) << "a metre of four, " << distance << " m away";
        EXPECT_NEAR(stripe.first, 37, 1);
    }
}

TEST(Camera, APerspectiveOneSeesItsFaceByItsFocalLength) {
    Build b = boxAhead(6.5);
    b.set(firstCamera(b.scene), "focalLength", {60});
    // The face is 6 m away: 36 mm of film over 60 mm see 3.6 m there.
    EXPECT_NEAR(seen(b, 180).count, 50, 1);
}

TEST(Camera, WhatIsNearerOrFartherThanTheCutsIsNotSeen) {
    for (const char* projection : {"perspective", "parallel"}) {
        Build b = boxAhead(6.5);
        const ObjectId camera = firstCamera(b.scene);
        b.set(camera, "projection", std::string(projection)).set(camera, "width", {4});
        EXPECT_GT(seen(b).count, 10) << projection;
        b.set(camera, "nearCut", {5.9}).set(camera, "farCut", {6.1});
        EXPECT_GT(seen(b).count, 10) << projection;
        b.set(camera, "farCut", {5.95});
        EXPECT_EQ(seen(b).count, 0) << projection << ": behind the far cut";
        b.set(camera, "farCut", {0}).set(camera, "nearCut", {7.5});
        EXPECT_EQ(seen(b).count, 0) << projection << ": before the near cut";
    }
}

TEST(Camera, TheViewPutIntoAParallelOneGivesItsWidth) {
    Build b = boxAhead(5);
    const ObjectId camera = firstCamera(b.scene);
    b.set(camera, "projection", std::string("parallel"));
    Camera wide = there;
    wide.projection = Projection::parallel, wide.width = 7.5f;
    const Edit edit = putCamera(b.scene, camera, wide, 0, making::store());
    EXPECT_FLOAT_EQ(cameraAt(edit.scene, camera, 0, making::store()).width, 7.5f);
    EXPECT_EQ(cameraAt(edit.scene, camera, 0, making::store()).projection, Projection::parallel);
}
