#include "core/edit/arrange_edits.h"

#include <algorithm>
#include <iterator>
#include <set>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"

namespace gswarm {

using namespace edits;

namespace {

bool isFree(const Scene& scene, ObjectId id) {
    return id.type() != ObjectType::project && std::find(scene.order.begin(), scene.order.end(), id) != scene.order.end();
}

std::string namesOf(const Scene& scene, const std::vector<ObjectId>& things) {
    if (things.size() == 1) return scene.at(things.front()).name;
    return std::to_string(things.size()) + " things";
}

void putInto(Scene& scene, ObjectId thing, ObjectId group) {
    for (ObjectId outer = group; outer; outer = scene.at(outer).group)
        if (outer == thing) throw Error("“" + scene.at(thing).name + "” can't stand in itself; nothing was moved.");
    changed(scene, thing).group = group;
}

/// What stands in a group, also in groups within.
void addMembers(const Scene& scene, ObjectId group, std::vector<ObjectId>& to) {
    for (const ObjectId id : scene.order)
        if (scene.at(id).group == group) {
            to.push_back(id);
            if (id.type() == ObjectType::group) addMembers(scene, id, to);
        }
}

/// The gestures of a swarm that are in no other rail, and the zones that only they weave.
void addOwnOfSwarm(const Scene& scene, ObjectId swarm, std::vector<ObjectId>& to) {
    std::set<ObjectId> gestures, zones;
    const auto onlyHere = [&](ObjectId gesture) {
        const auto users = scene.referringTo(gesture);
        return std::all_of(users.begin(), users.end(),
                           [&](ObjectId user) { return user.type() != ObjectType::rail || scene.ownerOf(user) == swarm; });
    };
    for (const ObjectId entry : scene.at(swarm).list("rail"))
        if (const ObjectId gesture = referenceOf(scene.at(entry).part("entry"), "gesture"); scene.find(gesture) && onlyHere(gesture))
            gestures.insert(gesture);
    std::map<ObjectId, bool> woven;
    for (const ObjectId gesture : scene.all(ObjectType::gesture))
        for (const ObjectId zone : wovenZones(scene, gesture)) {
            const auto known = woven.emplace(zone, true).first;
            known->second = known->second && gestures.contains(gesture);
        }
    for (const auto& [zone, own] : woven)
        if (own) zones.insert(zone);
    to.insert(to.end(), gestures.begin(), gestures.end());
    to.insert(to.end(), zones.begin(), zones.end());
}

void standBehind(std::vector<ObjectId>& list, ObjectId original, ObjectId copy) {
    const auto at = std::find(list.begin(), list.end(), original);
    list.insert(at == list.end() ? at : at + 1, copy);
}

/// A copied gesture gets a card behind each card of the original, but not in a rail that was copied along.
void addCards(Scene& scene, const Scene& before, ObjectId gesture, ObjectId copy) {
    for (const ObjectId user : before.referringTo(gesture)) {
        if (user.type() != ObjectType::rail) continue;
        const ObjectId swarm = before.ownerOf(user);
        refuseCard(scene, swarm);
        Object entry = before.at(user);
        entry.id = newObjectId(ObjectType::rail);
        setReference(entry, "entry", "gesture", copy);
        insert(scene, entry);
        standBehind(changed(scene, swarm).list("rail"), user, entry.id);
    }
}

}  // namespace

Edit groupThings(const Scene& scene, const std::vector<ObjectId>& things, const std::string& name) {
    std::vector<ObjectId> members;
    std::copy_if(things.begin(), things.end(), std::back_inserter(members), [&](ObjectId id) { return isFree(scene, id); });
    if (members.empty() && !things.empty())
        throw Error("Only swarms, zones, shapes, lights, cameras, mounts and groups can be grouped; nothing was moved.");
    Object group = standardObject(ObjectType::group, freeName(scene, name));
    if (!members.empty()) group.group = scene.at(members.front()).group;
    Edit edit{scene, members.empty() ? "Add " + group.name : "Group " + namesOf(scene, members), {}, group.id};
    insert(edit.scene, group);
    edit.scene.order.push_back(group.id);
    for (const ObjectId member : members) putInto(edit.scene, member, group.id);
    return edit;
}

Edit moveToGroup(const Scene& scene, const std::vector<ObjectId>& things, ObjectId group) {
    Edit edit{scene, (group ? "Into " + scene.at(group).name + ": " : "Out of the group: ") + namesOf(scene, things), {}, {}};
    for (const ObjectId thing : things)
        if (isFree(scene, thing)) putInto(edit.scene, thing, group);
    return edit;
}

Edit moveBefore(const Scene& scene, const std::vector<ObjectId>& things, ObjectId before) {
    Edit edit{scene, "Move " + namesOf(scene, things), {}, {}};
    std::vector<ObjectId> moved;
    for (const ObjectId id : scene.order)
        if (id != before && std::find(things.begin(), things.end(), id) != things.end()) moved.push_back(id);
    auto& order = edit.scene.order;
    std::erase_if(order, [&](ObjectId id) { return std::find(moved.begin(), moved.end(), id) != moved.end(); });
    order.insert(std::find(order.begin(), order.end(), before), moved.begin(), moved.end());
    return edit;
}

Edit duplicateThings(const Scene& scene, const std::vector<ObjectId>& things) {
    if (std::any_of(things.begin(), things.end(), [](ObjectId id) { return id.type() == ObjectType::project; }))
        throw Error("The project's own settings can't be duplicated.");
    Edit edit{scene, "Duplicate " + namesOf(scene, things), {}, {}};
    std::vector<ObjectId> all;
    for (const ObjectId id : things) {
        all.push_back(id);
        if (id.type() == ObjectType::group) addMembers(scene, id, all);
    }
    const std::vector<ObjectId> asked = all;
    for (const ObjectId id : asked)
        if (id.type() == ObjectType::swarm) addOwnOfSwarm(scene, id, all);
    // What is owned by something that is copied too comes along with that.
    std::erase_if(all, [&](ObjectId id) {
        const ObjectId owner = scene.ownerOf(id);
        return owner && std::find(all.begin(), all.end(), owner) != all.end();
    });
    const auto copies = copyAll(edit.scene, scene, all);
    std::set<ObjectId> done;
    for (const ObjectId id : all) {
        if (!done.insert(id).second) continue;
        const ObjectId copy = copies.at(id), owner = scene.ownerOf(id);
        changed(edit.scene, copy).name = freeName(edit.scene, scene.at(id).name);
        if (owner) {
            for (auto& list : changed(edit.scene, owner).lists)
                if (std::find(list.begin(), list.end(), id) != list.end()) standBehind(list, id, copy);
        } else {
            standBehind(edit.scene.order, id, copy);
        }
        const bool withRail = std::find(asked.begin(), asked.end(), id) == asked.end();
        if (id.type() == ObjectType::gesture && !withRail) addCards(edit.scene, scene, id, copy);
    }
    edit.made = copies.at(things.front());
    refuseCircle(edit.scene, edit.made);
    return edit;
}

}  // namespace gswarm
