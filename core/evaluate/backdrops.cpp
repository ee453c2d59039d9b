#include "core/evaluate/backdrops.h"

#include <algorithm>

#include "core/evaluate/plan.h"
#include "core/scene/references.h"

namespace gswarm {
namespace {

/// Whether an object refers to a shape, or to shapes that are made from it.
bool reaches(const Scene& scene, ObjectId from, ObjectId shape) {
    for (const ObjectId used : usedBy(scene, from)) {
        if (used == shape) return true;
        if (used.type() == ObjectType::shape && reaches(scene, used, shape)) return true;
    }
    return false;
}

ObjectId formationOn(const Scene& scene, ObjectId swarm) { return referenceOf(scene.at(swarm).part("place"), "formation"); }

bool standsOn(const Scene& scene, ObjectId swarm, ObjectId shape) {
    const auto used = usedBy(scene, formationOn(scene, swarm));
    return std::find(used.begin(), used.end(), shape) != used.end();
}

bool uses(const Scene& scene, ObjectId swarm, ObjectId shape) {
    const auto& stock = scene.at(swarm).list("stock");
    const auto& rail = scene.at(swarm).list("rail");
    return reaches(scene, formationOn(scene, swarm), shape) ||
           std::any_of(stock.begin(), stock.end(), [&](ObjectId entry) { return reaches(scene, entry, shape); }) ||
           std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
               const Object* gesture = scene.find(referenceOf(scene.at(entry).part("entry"), "gesture"));
               return gesture && reaches(scene, gesture->id, shape);
           });
}

/// The zone that lies along or around a shape, if no swarm uses it.
ObjectId zoneOf(const Scene& scene, ObjectId shape) {
    for (const ObjectId user : scene.referringTo(shape))
        if (user.type() == ObjectType::zone) return user;
    return {};
}

}  // namespace

std::vector<Backdrop> backdropsOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes) {
    const auto swarms = scene.all(ObjectType::swarm);
    std::vector<Backdrop> out;
    for (const ObjectId shape : scene.all(ObjectType::shape)) {
        const auto resolved = resolve(scene.at(shape).part("display"), frame);
        const auto& display = resolved.as<Display>();
        if (display.as == DisplayAs::hidden) continue;
        const bool stoodOn = std::any_of(swarms.begin(), swarms.end(), [&](ObjectId s) { return standsOn(scene, s, shape); });
        const auto user = std::find_if(swarms.begin(), swarms.end(), [&](ObjectId s) { return uses(scene, s, shape); });
        const bool here = stoodOn ? standsOn(scene, swarm, shape) : swarm == (user == swarms.end() ? swarms.front() : *user);
        if (!here) continue;
        const WorldPose pose = stoodOn ? swarmPoseAt(scene, swarm, frame) : shapePoseAt(scene, shape, frame);
        out.push_back({shape, shapes.get(shape), pose, display.colour, display.as == DisplayAs::dimmed});
    }
    return out;
}

WorldPose shapePoseAt(const Scene& scene, ObjectId shape, double frame) {
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        if (uses(scene, swarm, shape)) return swarmPoseAt(scene, swarm, frame);
    const ObjectId zone = zoneOf(scene, shape);
    if (!zone) return {};
    const ZoneState state = zoneStateAt(scene.at(zone), frame);
    return {state.position, state.rotation, 1};
}

}  // namespace gswarm
