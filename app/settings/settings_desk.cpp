#include "app/settings/settings_desk.h"

#include "app/document/evaluation.h"
#include "app/document/shown_zones.h"
#include "core/arrange/fitted_edits.h"

using namespace gswarm;

void SettingsDesk::unfold(ObjectId entry, ObjectId zone) {
    unfolded_ = entry;
    if (entry.type() != ObjectType::stock)
        document.setHandled(document.scene().find(zone) ? zone : handledGesture(document.scene(), document.chosen()));
    emit unfoldedChanged();
}

void SettingsDesk::makeZone(ObjectId gesture, const Kind& kind) {
    const auto seen = evaluation.resultOf(document.swarm());
    const ObjectId zone = document.edit([&](const Scene& s) { return addZoneFitted(s, gesture, kind, seen.get()); });
    if (zone) unfold(document.scene().at(gesture).list("weave").back(), zone);
}

std::shared_ptr<const Census> SettingsDesk::censusOf(ObjectId gesture) const {
    const auto result = evaluation.resultOf(document.swarm());
    if (!result) return nullptr;
    for (const Census& census : result->cards) {
        const Object* entry = document.scene().find(census.entry);
        if (entry && referenceOf(entry->part("entry"), "gesture") == gesture) return {result, &census};
    }
    return nullptr;
}
