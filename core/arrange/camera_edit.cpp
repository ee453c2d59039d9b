#include "core/arrange/camera_edit.h"

#include <cmath>

#include "core/edit/edit_parts.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {

Edit putCamera(const Scene& scene, const Camera& camera, double frame, Store& store) {
    Edit edit{scene, "Camera from view", {}, {}};
    const auto cameras = scene.all(ObjectType::camera);
    ObjectId id = cameras.empty() ? ObjectId{} : cameras.front();
    if (!id) {
        const Object made = standardObject(ObjectType::camera, "Camera");
        edits::insert(edit.scene, made);
        edit.scene.order.push_back(made.id);
        id = edit.made = made.id;
    }
    const WorldPose base = baseOf(edit.scene, id, frame, store);
    const glm::vec3 position = base.fromWorld(camera.position), target = base.fromWorld(camera.target);
    const auto set = [&](const char* number, int component, float value) {
        const double rounded = std::round(value * 1000.0) / 1000.0;
        edit.scene = setNumber(edit.scene, addressOf(edit.scene, id, number, component), rounded, frame).scene;
    };
    for (int c = 0; c < 3; ++c) {
        set("position", c, position[c]);
        set("target", c, target[c]);
    }
    set("focalLength", -1, camera.focalLength);
    return edit;
}

}  // namespace gswarm
