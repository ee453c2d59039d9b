#include "core/arrange/camera_edit.h"

#include <algorithm>
#include <cmath>

#include "core/edit/edit_parts.h"
#include "core/edit/key_edits.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/frame_range.h"

namespace gswarm {
Edit addCamera(const Scene& scene, const Camera& as) {
    Object made = standardObject(ObjectType::camera, edits::freeName(scene, "Camera"));
    Part& part = made.part("camera");
    const auto set = [&](const char* parameter, const Value& value) {
        part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = value;
    };
    set("position",
        fixedNumbers({edits::toMillimetres(as.position.x), edits::toMillimetres(as.position.y), edits::toMillimetres(as.position.z)}));
    set("target", fixedNumbers({edits::toMillimetres(as.target.x), edits::toMillimetres(as.target.y), edits::toMillimetres(as.target.z)}));
    set("projection", std::string(as.projection == Projection::parallel ? "parallel" : "perspective"));
    set("focalLength", fixedNumbers({edits::toMillimetres(as.focalLength)}));
    set("width", fixedNumbers({edits::toMillimetres(as.width)}));
    set("on", scene.all(ObjectType::camera).empty());
    Edit edit{scene, "Add " + made.name, {}, made.id};
    edits::insert(edit.scene, made);
    edit.scene.order.push_back(made.id);
    return edit;
}

Edit putCamera(const Scene& scene, ObjectId id, const Camera& as, double frame, Store& store) {
    Edit edit{scene, scene.at(id).name + " to the view", "view " + toText(id), {}};
    const WorldPose base = baseOf(edit.scene, id, frame, store);
    const glm::vec3 position = base.fromWorld(as.position), target = base.fromWorld(as.target);
    const auto set = [&](const char* number, int component, float value) {
        edit.scene = setNumber(edit.scene, addressOf(edit.scene, id, number, component), edits::toMillimetres(value), frame).scene;
    };
    const bool aims = choiceOf(scene.at(id).part("camera"), "looksAt") == "thing";
    for (int c = 0; c < 3; ++c) {
        set("position", c, position[c]);
        if (!aims) set("target", c, target[c]);
    }
    // How it projects stays; what it sees is given by the one number or the other.
    if (choiceOf(scene.at(id).part("camera"), "projection") == "parallel")
        set("width", -1, as.width);
    else
        set("focalLength", -1, as.focalLength);
    return edit;
}

Edit cutTo(const Scene& scene, ObjectId camera, double frame) {
    Edit edit{scene, "Cut to " + scene.at(camera).name, {}, {}};
    const auto cameras = scene.all(ObjectType::camera);
    const auto moves = [&](ObjectId id) { return std::holds_alternative<Numbers>(scene.at(id).part("camera")["on"]); };
    const double first = framesOf(scene).first;
    const bool keyed = std::any_of(cameras.begin(), cameras.end(), moves) || frame > first;
    for (const ObjectId id : cameras) {
        const Address on = addressOf(edit.scene, id, "on");
        if (keyed && !moves(id) && frame > first) edit.scene = toggleKey(edit.scene, on, first).scene;
        edit.scene = setSwitch(edit.scene, on, id == camera, frame).scene;
    }
    return edit;
}

}  // namespace gswarm
