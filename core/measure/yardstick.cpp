#include "core/measure/yardstick.h"

#include <cmath>

#include "core/edit/edit.h"
#include "core/edit/gesture_starts.h"
#include "core/kinds/registry.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

const GestureStart& start(std::string_view id) {
    for (const auto& s : gestureStarts())
        if (s.id == id) return s;
    throw std::logic_error("no such gesture");
}

}  // namespace

Scene yardstickScene(int instances) {
    Edit edit = addSwarm(emptyScene());
    const ObjectId swarm = edit.made;
    const ObjectId grid = edit.scene.at(swarm).list("formations").front();
    const int side = static_cast<int>(std::lround(std::sqrt(instances / 4.0)));
    const auto set = [&](ObjectId object, const char* parameter, const Value& value) {
        edit = setValue(edit.scene, addressOf(edit.scene, object, parameter), value);
    };
    set(grid, "count", fixedNumbers({double(side), 4, double(side)}));
    const auto add = [&](const char* id) {
        edit = addGesture(edit.scene, swarm, start(id).make());
        return edit.made;
    };
    add("drift");
    add("tumble");
    const ObjectId wave = add("wave");
    set(wave, "position", false);
    set(wave, "scale", true);
    const ObjectId swell = add("rise");
    set(swell, "position", false);
    set(swell, "scale", true);
    edit = addZone(edit.scene, swell, ballZone);
    const ObjectId ball = edit.made;
    set(ball, "radius", fixedNumbers({side * 0.4}));
    set(ball, "softEdge", fixedNumbers({side * 0.2}));
    add("gild");
    return edit.scene;
}

}  // namespace gswarm
