#include "app/document/shown_zones.h"

#include <algorithm>

#include "app/document/document.h"
#include "core/gesture/gesture_kind.h"
#include "core/pattern/pattern_kind.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

std::vector<ObjectId> shownZones(const Document& document) {
    std::vector<ObjectId> zones;
    const Scene& scene = document.scene();
    const ObjectId chosen = document.chosen();
    if (scene.find(chosen) && (chosen.type() == ObjectType::gesture || chosen.type() == ObjectType::force))
        zones = wovenZones(scene, chosen);
    for (const ObjectId zone : document.session().pinned()) zones.push_back(zone);
    if (document.handled().type() == ObjectType::zone) zones.push_back(document.handled());
    if (document.picking())
        for (const ObjectId zone : scene.all(ObjectType::zone)) zones.push_back(zone);
    std::erase_if(zones, [&](ObjectId z) { return !scene.find(z); });
    std::sort(zones.begin(), zones.end());
    zones.erase(std::unique(zones.begin(), zones.end()), zones.end());
    return zones;
}

bool feelsForces(const Scene& scene, ObjectId thing) {
    const Object* object = scene.find(thing);
    return object && std::any_of(object->parts.begin(), object->parts.end(), [](const Part& part) { return part.kind->feelsForces; });
}

std::vector<ObjectId> shownForces(const Document& document) {
    const ObjectId chosen = document.chosen();
    if (chosen.type() == ObjectType::force && document.scene().find(chosen)) return {chosen};
    return feelsForces(document.scene(), chosen) ? document.scene().all(ObjectType::force) : std::vector<ObjectId>{};
}

ObjectId placedPatternIn(const Scene& scene, ObjectId thing) {
    const Object* object = thing.type() == ObjectType::gesture ? scene.find(thing) : nullptr;
    if (!object) return {};
    const Part& pattern = object->part("pattern");
    const auto& kind = static_cast<const PatternKind&>(*pattern.kind);
    return kind.place && kind.place(resolve(scene, pattern, 0).data.get()) ? thing : ObjectId{};
}

ObjectId handledGesture(const Scene& scene, ObjectId thing) {
    const ObjectId warp = warpIn(scene, thing);
    return warp ? warp : placedPatternIn(scene, thing);
}

ObjectId warpIn(const Scene& scene, ObjectId thing) {
    const Object* object = thing.type() == ObjectType::gesture ? scene.find(thing) : nullptr;
    return object && gestureKindOf(object->part("change")).handles ? thing : ObjectId{};
}
