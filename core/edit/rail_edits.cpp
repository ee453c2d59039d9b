#include "core/edit/rail_edits.h"

#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/kinds/registry.h"
#include "core/scene/chosen_ids.h"
#include "core/scene/object_kinds.h"
#include "core/zone/zone_kind.h"

namespace gswarm {

using namespace edits;

namespace {

ObjectId copyGesture(Scene& scene, ObjectId gesture) {
    const ObjectId copy = copyWithOwned(scene, gesture);
    changed(scene, copy).name = freeName(scene, scene.at(gesture).name);
    scene.order.push_back(copy);
    return copy;
}

/// Every zone of the weave, in groups too, is replaced by a copy; one that stands in it twice by the same copy.
void giveOwnZones(Scene& scene, const std::vector<ObjectId>& entries, std::map<ObjectId, ObjectId>& copies) {
    for (const ObjectId entry : entries) {
        giveOwnZones(scene, scene.at(entry).list("group"), copies);
        const ObjectId zone = referenceOf(scene.at(entry).part("entry"), "zone");
        if (!scene.find(zone)) continue;
        if (!copies.contains(zone)) {
            const ObjectId copy = copyWithOwned(scene, zone);
            changed(scene, copy).name = freeName(scene, scene.at(zone).name);
            scene.order.push_back(copy);
            copies[zone] = copy;
        }
        setReference(changed(scene, entry), "entry", "zone", copies[zone]);
    }
}

ObjectId copyInto(Scene& scene, ObjectId railEntry, ObjectId swarm) {
    const ObjectId copy = copyGesture(scene, gestureOf(scene, railEntry));
    adoptNamedValues(scene, copy, swarm);
    const ObjectId entry = appendCard(scene, swarm, copy);
    changed(scene, entry).part("entry") = [&] {
        Part part = scene.at(railEntry).part("entry");
        part.values[static_cast<std::size_t>(part.kind->indexOf("gesture"))] = copy;
        return part;
    }();
    return copy;
}

std::vector<ObjectId>& listHolding(Scene& scene, ObjectId entry) {
    const ObjectId owner = scene.ownerOf(entry);
    return changed(scene, owner).list(owner.type() == ObjectType::weave ? "group" : "weave");
}

}  // namespace

void edits::adoptNamedValues(Scene& scene, ObjectId gesture, ObjectId swarm) {
    const Object object = scene.at(gesture);
    for (std::size_t p = 0; p < object.parts.size(); ++p)
        for (std::size_t v = 0; v < object.parts[p].values.size(); ++v) {
            const auto* id = std::get_if<ObjectId>(&object.parts[p].values[v]);
            if (!id || id->type() != ObjectType::namedValue || !scene.find(*id) || scene.ownerOf(*id) == swarm) continue;
            const auto& own = scene.at(swarm).list("namedValues");
            const auto same = std::find_if(own.begin(), own.end(), [&](ObjectId n) { return scene.at(n).name == scene.at(*id).name; });
            ObjectId number;
            if (same != own.end()) {
                number = *same;
            } else {
                if (own.size() >= mostNamedValues)
                    throw Error("The swarm has as many named values as the limit allows; nothing was copied.");
                number = copyWithOwned(scene, *id);
                changed(scene, swarm).list("namedValues").push_back(number);
            }
            changed(scene, gesture).parts[p].values[v] = number;
        }
}

int usersOf(const Scene& scene, ObjectId gesture) {
    int users = 0;
    for (const ObjectId id : scene.referringTo(gesture)) users += id.type() == ObjectType::rail ? 1 : 0;
    return users;
}

Edit duplicateCard(const Scene& scene, ObjectId railEntry, ZonesOfCopy zones) {
    const ObjectId gesture = gestureOf(scene, railEntry);
    refuseCard(scene, scene.ownerOf(railEntry));
    Edit edit{scene, "Duplicate " + scene.at(gesture).name, {}, {}};
    const ObjectId copy = copyGesture(edit.scene, gesture);
    if (zones == ZonesOfCopy::own) {
        std::map<ObjectId, ObjectId> copies;
        const auto weave = edit.scene.at(copy).list("weave");
        giveOwnZones(edit.scene, weave, copies);
    }
    Object entry = scene.at(railEntry);
    entry.id = newObjectId(ObjectType::rail);
    setReference(entry, "entry", "gesture", copy);
    insert(edit.scene, entry);
    auto& rail = changed(edit.scene, scene.ownerOf(railEntry)).list("rail");
    rail.insert(std::find(rail.begin(), rail.end(), railEntry) + 1, entry.id);
    edit.made = copy;
    return edit;
}

Edit copyCard(const Scene& scene, ObjectId railEntry, ObjectId swarm) {
    Edit edit{scene, "Copy " + scene.at(gestureOf(scene, railEntry)).name + " to " + scene.at(swarm).name, {}, {}};
    edit.made = copyInto(edit.scene, railEntry, swarm);
    refuseCircle(edit.scene, swarm);
    return edit;
}

Edit shareCard(const Scene& scene, ObjectId railEntry, ObjectId swarm) {
    const ObjectId gesture = gestureOf(scene, railEntry);
    Edit edit{scene, "Share " + scene.at(gesture).name + " with " + scene.at(swarm).name, {}, {}};
    appendCard(edit.scene, swarm, gesture);
    refuseCircle(edit.scene, swarm);
    edit.made = gesture;
    return edit;
}

Edit giveOwnCopy(const Scene& scene, ObjectId railEntry) {
    const ObjectId gesture = gestureOf(scene, railEntry);
    if (usersOf(scene, gesture) < 2) throw Error("“" + scene.at(gesture).name + "” is not shared; nothing was changed.");
    Edit edit{scene, scene.at(gesture).name + ": a copy of its own", {}, {}};
    edit.made = copyGesture(edit.scene, gesture);
    setReference(changed(edit.scene, railEntry), "entry", "gesture", edit.made);
    return edit;
}

Edit copyRail(const Scene& scene, ObjectId from, ObjectId to) {
    Edit edit{scene, "Copy the rail of " + scene.at(from).name + " to " + scene.at(to).name, {}, {}};
    for (const ObjectId entry : scene.at(from).list("rail")) edit.made = copyInto(edit.scene, entry, to);
    refuseCircle(edit.scene, to);
    return edit;
}

Edit shareRail(const Scene& scene, ObjectId from, ObjectId to) {
    Edit edit{scene, "Share the rail of " + scene.at(from).name + " with " + scene.at(to).name, {}, {}};
    for (const ObjectId entry : scene.at(from).list("rail")) appendCard(edit.scene, to, gestureOf(scene, entry));
    refuseCircle(edit.scene, to);
    return edit;
}

Edit addNamedValue(const Scene& scene, ObjectId swarm, const std::string& name) {
    if (scene.at(swarm).list("namedValues").size() >= mostNamedValues)
        throw Error("“" + scene.at(swarm).name + "” has " + std::to_string(mostNamedValues) + " named values, the limit; use one of them.");
    const Object number = standardObject(ObjectType::namedValue, freeName(scene, name));
    Edit edit{scene, scene.at(swarm).name + ": named value " + number.name, {}, number.id};
    insert(edit.scene, number);
    changed(edit.scene, swarm).list("namedValues").push_back(number.id);
    return edit;
}

Edit addChosenZone(const Scene& scene, ObjectId gesture, const std::vector<std::uint64_t>& ids) {
    if (ids.empty()) throw Error("No instance is selected; select some in the view or in the ledger first.");
    Edit edit = addZone(scene, gesture, chosenZone);
    Object& zone = changed(edit.scene, edit.made);
    zone.name = freeName(edit.scene, std::to_string(ids.size()) + " chosen");
    setText(zone, "form", "ids", chosenText(ids));
    edit.label = scene.at(gesture).name + ": where " + zone.name;
    return edit;
}

namespace {

/// In how many groups an entry lies.
int depthOf(const Scene& scene, ObjectId entry) {
    int depth = 0;
    for (ObjectId owner = scene.ownerOf(entry); owner.type() == ObjectType::weave; owner = scene.ownerOf(owner)) ++depth;
    return depth;
}
/// How many groups lie in each other in an entry, with itself.
int groupsIn(const Scene& scene, ObjectId entry) {
    int most = 0;
    const auto& group = scene.at(entry).list("group");
    for (const ObjectId inside : group) most = std::max(most, groupsIn(scene, inside));
    return group.empty() ? 0 : most + 1;
}
void refuseDepth(int groups) {
    if (groups > deepestWeave)
        throw Error("Groups lie in each other at most " + std::to_string(deepestWeave) + " deep; take one apart first.");
}

}  // namespace

Edit groupEntry(const Scene& scene, ObjectId entry) {
    refuseDepth(depthOf(scene, entry) + groupsIn(scene, entry) + 1);
    Edit edit{scene, "Group " + scene.at(entry).name, {}, {}};
    Object group = standardObject(ObjectType::weave, "Group");
    // The group joins the weave as the entry did; within, the entry begins.
    group.part("entry") = scene.at(entry).part("entry");
    setReference(group, "entry", "zone", {});
    group.list("group").push_back(entry);
    auto& list = listHolding(edit.scene, entry);
    *std::find(list.begin(), list.end(), entry) = group.id;
    insert(edit.scene, group);
    Part& inside = changed(edit.scene, entry).part("entry");
    inside.values[static_cast<std::size_t>(inside.kind->indexOf("amount"))] = fixedNumbers({100});
    edit.made = group.id;
    return edit;
}

Edit moveIntoGroup(const Scene& scene, ObjectId entry) {
    Edit edit{scene, "Move " + scene.at(entry).name + " into the group", {}, {}};
    auto& list = listHolding(edit.scene, entry);
    const auto at = std::find(list.begin(), list.end(), entry);
    if (at == list.begin() || scene.at(*(at - 1)).list("group").empty())
        throw Error("No group stands above this entry; make one of the entry above first.");
    const ObjectId group = *(at - 1);
    refuseDepth(depthOf(scene, group) + 1 + groupsIn(scene, entry));
    list.erase(at);
    changed(edit.scene, group).list("group").push_back(entry);
    edit.made = group;
    return edit;
}

Edit ungroup(const Scene& scene, ObjectId group) {
    Edit edit{scene, "Take the group apart", {}, {}};
    const auto inside = scene.at(group).list("group");
    auto& list = listHolding(edit.scene, group);
    const auto at = list.erase(std::find(list.begin(), list.end(), group));
    list.insert(at, inside.begin(), inside.end());
    edit.scene.objects.erase(group);
    return edit;
}

ObjectId gestureOfEntry(const Scene& scene, ObjectId entry) {
    ObjectId owner = scene.ownerOf(entry);
    while (owner.type() == ObjectType::weave) owner = scene.ownerOf(owner);
    return owner;
}

}  // namespace gswarm
