#include "core/prepare/backdrops.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/hanging.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

/// The swarm that a shape is made of; none where it stands still.
ObjectId carrierOfShape(const Scene& scene, ObjectId shape, double frame) {
    const Part& part = scene.at(shape).part("maker");
    const auto& kind = static_cast<const ShapeKind&>(*part.kind);
    return kind.swarm ? kind.swarm(resolve(scene, part, frame).data.get()) : ObjectId{};
}

/// Whether the symmetries of the swarm that it is made of copy it: one made of all that the swarm shows has the copies already.
bool isCopied(const Scene& scene, ObjectId shape) { return static_cast<const ShapeKind&>(*scene.at(shape).part("maker").kind).carried; }

}  // namespace

std::vector<Backdrop> backdropsOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes, Looks& looks, Store& store,
                                  std::vector<std::string>& notes) {
    const auto swarms = scene.all(ObjectType::swarm);
    std::vector<Backdrop> out;
    for (const ObjectId shape : scene.all(ObjectType::shape)) {
        const auto resolved = resolve(scene, scene.at(shape).part("display"), frame);
        const auto& display = resolved.as<Display>();
        if (display.as == DisplayAs::hidden) continue;
        const ObjectId carrier = carrierOfShape(scene, shape, frame);
        const bool stoodOn = std::any_of(swarms.begin(), swarms.end(), [&](ObjectId s) { return standsOn(scene, s, shape); });
        const auto user = std::find_if(swarms.begin(), swarms.end(), [&](ObjectId s) { return usesShape(scene, s, shape); });
        const bool here = carrier   ? swarm == carrier
                          : stoodOn ? standsOn(scene, swarm, shape)
                                    : swarm == (user == swarms.end() ? swarms.front() : *user);
        if (!here) continue;
        const WorldPose pose = stoodOn || carrier ? poseAt(scene, swarm, frame, store) : shapePoseAt(scene, shape, frame, store);
        try {
            const auto meshes = shapes.get(shape);
            Look look = looks.of(display.material, plainStone());
            // What is made of instances has their colours; what is carried, once a gesture colours them.
            if (carrier && !meshes->mesh().colours.empty()) look.plain.colour = glm::vec4(1);
            out.push_back({shape, meshes, pose, look, display.as == DisplayAs::dimmed, bool(carrier), isCopied(scene, shape)});
        } catch (const Error& error) {
            notes.push_back(error.what());
        }
    }
    return out;
}

}  // namespace gswarm
