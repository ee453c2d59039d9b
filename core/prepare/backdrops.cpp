#include "core/prepare/backdrops.h"

#include <algorithm>

#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/hanging.h"
#include "core/resolve/resolve.h"

namespace gswarm {
std::vector<Backdrop> backdropsOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes, Looks& looks, Store& store) {
    const auto swarms = scene.all(ObjectType::swarm);
    std::vector<Backdrop> out;
    for (const ObjectId shape : scene.all(ObjectType::shape)) {
        const auto resolved = resolve(scene, scene.at(shape).part("display"), frame);
        const auto& display = resolved.as<Display>();
        if (display.as == DisplayAs::hidden) continue;
        const bool stoodOn = std::any_of(swarms.begin(), swarms.end(), [&](ObjectId s) { return standsOn(scene, s, shape); });
        const auto user = std::find_if(swarms.begin(), swarms.end(), [&](ObjectId s) { return usesShape(scene, s, shape); });
        const bool here = stoodOn ? standsOn(scene, swarm, shape) : swarm == (user == swarms.end() ? swarms.front() : *user);
        if (!here) continue;
        const WorldPose pose = stoodOn ? poseAt(scene, swarm, frame, store) : shapePoseAt(scene, shape, frame, store);
        out.push_back({shape, shapes.get(shape), pose, looks.of(display.material, plainStone()), display.as == DisplayAs::dimmed});
    }
    return out;
}

}  // namespace gswarm
