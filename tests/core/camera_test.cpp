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
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;

namespace {

const Camera there{
    .on = true, .position = {3, 4.5f, -2}, .target = {0.25f, 1, 0.5f}, .looksAt = LooksAt::place, .thing = {}, .lag = 0, .focalLength = 85};

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

TEST(Camera, TheLastOneAndTheLightStay) {
    const Scene scene = emptyScene();
    EXPECT_THROW(remove(scene, firstCamera(scene)), Error);
    EXPECT_THROW(remove(scene, scene.all(ObjectType::light).front()), Error);
    try {
        remove(scene, firstCamera(scene));
    } catch (const Error& error) {
        EXPECT_NE(std::string(error.what()).find("move this one"), std::string::npos);
    }
}
