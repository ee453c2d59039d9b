#include "app/document/shown_zones.h"

#include <algorithm>

#include "app/document/document.h"

using namespace gswarm;

namespace {

/// The zones of a weave, those in groups too.
void addWoven(const Scene& scene, const std::vector<ObjectId>& entries, std::vector<ObjectId>& zones) {
    for (const ObjectId entry : entries) {
        addWoven(scene, scene.at(entry).list("group"), zones);
        zones.push_back(referenceOf(scene.at(entry).part("entry"), "zone"));
    }
}

}  // namespace

std::vector<ObjectId> shownZones(const Document& document) {
    std::vector<ObjectId> zones;
    const Scene& scene = document.scene();
    const Object* chosen = scene.find(document.chosen());
    if (chosen && chosen->id.type() == ObjectType::gesture) addWoven(scene, chosen->list("weave"), zones);
    for (const ObjectId zone : document.session().pinned()) zones.push_back(zone);
    if (document.handled().type() == ObjectType::zone) zones.push_back(document.handled());
    if (document.picking())
        for (const ObjectId zone : scene.all(ObjectType::zone)) zones.push_back(zone);
    std::erase_if(zones, [&](ObjectId z) { return !scene.find(z); });
    std::sort(zones.begin(), zones.end());
    zones.erase(std::unique(zones.begin(), zones.end()), zones.end());
    return zones;
}
