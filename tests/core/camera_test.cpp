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
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "core/time/track.h"
#include "tests/core/making.h"

using namespace gswarm;

namespace {

const Camera there{{3, 4.5f, -2}, {0.25f, 1, 0.5f}, 85};

void expectAt(const Camera& is, const Camera& wanted) {
    EXPECT_LT(glm::length(is.position - wanted.position), 2e-3f);
    EXPECT_LT(glm::length(is.target - wanted.target), 2e-3f);
    EXPECT_FLOAT_EQ(is.focalLength, wanted.focalLength);
}

ObjectId firstCamera(const Scene& scene) { return scene.all(ObjectType::camera).front(); }

}  // namespace

TEST(Camera, IsPutThereInOneStep) {
    const Scene before = emptyScene();
    const Edit edit = putCamera(before, there, 0, making::store());
    expectAt(cameraAt(edit.scene, firstCamera(edit.scene), 0, making::store()), there);
    EXPECT_EQ(edit.label, "Camera from view");
    EXPECT_TRUE(edit.mergeKey.empty());  // two of them are two steps
    EXPECT_EQ(edit.scene.all(ObjectType::camera).size(), 1u);
    EXPECT_FALSE(edit.made);
}

TEST(Camera, AKeyedOneGetsAKeyAtThatFrame) {
    Scene scene = emptyScene();
    const ObjectId camera = firstCamera(scene);
    for (int c = 0; c < 3; ++c) scene = toggleKey(scene, addressOf(scene, camera, "position", c), 0).scene;
    const Camera start = cameraAt(scene, camera, 0, making::store());
    scene = putCamera(scene, there, 40, making::store()).scene;
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
    scene = putCamera(scene, there, 0, making::store()).scene;
    expectAt(cameraAt(scene, firstCamera(scene), 0, making::store()), there);
    // It goes along with the mount.
    scene = setNumber(scene, addressOf(scene, mount, "position", 0), 7, 0).scene;
    EXPECT_NEAR(cameraAt(scene, firstCamera(scene), 0, making::store()).position.x, there.position.x + 2, 2e-3);
}

TEST(Camera, IsMadeWhereThereIsNone) {
    Scene scene = emptyScene();
    const ObjectId only = firstCamera(scene);
    scene.order.erase(std::find(scene.order.begin(), scene.order.end(), only));
    scene.objects.erase(only);
    ASSERT_TRUE(scene.all(ObjectType::camera).empty());
    const Edit edit = putCamera(scene, there, 0, making::store());
    ASSERT_TRUE(edit.made);
    expectAt(cameraAt(edit.scene, edit.made, 0, making::store()), there);
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
