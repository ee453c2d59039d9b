#include "core/resolve/hanging.h"

#include <algorithm>

#include "core/resolve/references.h"
#include "core/scene/object_kinds.h"

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

}  // namespace

bool standsOn(const Scene& scene, ObjectId swarm, ObjectId shape) {
    const auto used = usedBy(scene, formationOn(scene, swarm));
    return std::find(used.begin(), used.end(), shape) != used.end();
}

bool usesShape(const Scene& scene, ObjectId swarm, ObjectId shape) {
    const auto& stock = scene.at(swarm).list("stock");
    const auto& rail = scene.at(swarm).list("rail");
    return reaches(scene, formationOn(scene, swarm), shape) ||
           std::any_of(stock.begin(), stock.end(), [&](ObjectId entry) { return reaches(scene, entry, shape); }) ||
           std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
               const Object* gesture = scene.find(referenceOf(scene.at(entry).part("entry"), "gesture"));
               return gesture && reaches(scene, gesture->id, shape);
           });
}

ObjectId carrierOf(const Scene& scene, ObjectId shape) {
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        if (usesShape(scene, swarm, shape)) return swarm;
    for (const ObjectType type : {ObjectType::zone, ObjectType::force})
        for (const ObjectId id : scene.all(type)) {
            const auto used = usedBy(scene, id);
            if (std::find(used.begin(), used.end(), shape) != used.end()) return id;
        }
    return {};
}

ObjectId hangsFrom(const Scene& scene, ObjectId id) {
    for (const Part& part : scene.at(id).parts) {
        if (part.kind != &hangKind) continue;
        const std::string& by = choiceOf(part, "by");
        if (by == "none") return {};
        const ObjectId to = referenceOf(part, by == "object" ? "from" : "curve");
        if (!scene.find(to)) return {};
        return by == "object" ? to : carrierOf(scene, to);
    }
    return {};
}

std::string circleOfHanging(const Scene& scene, ObjectId start) {
    std::vector<ObjectId> way{start};
    for (ObjectId at = hangsFrom(scene, start); at; at = hangsFrom(scene, at)) {
        const bool seen = std::find(way.begin(), way.end(), at) != way.end();
        way.push_back(at);
        if (!seen) continue;
        std::string names;
        for (auto step = std::find(way.begin(), way.end(), at); step != way.end(); ++step)
            names += (names.empty() ? "" : " → ") + scene.at(*step).name;
        return names;
    }
    return {};
}

}  // namespace gswarm
