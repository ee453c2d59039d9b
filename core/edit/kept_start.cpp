#include "core/edit/kept_start.h"

#include <algorithm>
#include <set>

#include "core/base/error.h"
#include "core/edit/edit_parts.h"
#include "core/edit/material_edits.h"
#include "core/material/material_kind.h"
#include "core/resolve/references.h"

namespace gswarm {

using namespace edits;

namespace {

/// Leaves of a swarm's rail only the first card that `keeps` allows; throws Error if there is none.
template <class Keeps>
void keepOneCard(Scene& scene, ObjectId swarm, const std::string& what, const Keeps& keeps) {
    const auto rail = scene.at(swarm).list("rail");
    const auto kept = std::find_if(rail.begin(), rail.end(),
                                   [&](ObjectId entry) { return scene.find(gestureOf(scene, entry)) && keeps(gestureOf(scene, entry)); });
    if (kept == rail.end()) throw Error("“" + scene.at(swarm).name + "” does not use " + what + "; nothing was kept.");
    changed(scene, swarm).list("rail") = {*kept};
}

/// Takes out all but the things behind some.
void reduceTo(Scene& scene, const std::vector<ObjectId>& roots) {
    const auto behind = everythingBehind(scene, roots);
    const std::set<ObjectId> needed(behind.begin(), behind.end());
    std::erase_if(scene.objects, [&](const auto& entry) { return !needed.contains(entry.first); });
    std::erase_if(scene.order, [&](ObjectId id) { return !needed.contains(id); });
    for (const ObjectId id : scene.order)
        if (scene.at(id).group) changed(scene, id).group = {};
}

/// What many things of a project have in common is no part of one: forces, and worlds that are shared.
void leaveAlone(Scene& scene) {
    for (const ObjectId force : scene.all(ObjectType::force)) scene = remove(scene, force).scene;
    for (const ObjectId gesture : scene.all(ObjectType::gesture))
        if (const std::string& shares = scene.at(gesture).part("change").kind->sharesWith; !shares.empty())
            setReference(changed(scene, gesture), "change", shares, {});
}

bool isCommon(ObjectId id) { return id.type() == ObjectType::project || id.type() == ObjectType::light || id.type() == ObjectType::camera; }

/// A thing, and what every project has.
std::vector<ObjectId> withCommon(const Scene& scene, ObjectId thing) {
    std::vector<ObjectId> roots{thing};
    for (const ObjectId id : scene.order)
        if (isCommon(id)) roots.push_back(id);
    return roots;
}

/// Things that came along and that nothing uses in the end.
void removeUnused(Scene& scene, const std::vector<ObjectId>& came, ObjectId user) {
    const auto behind = everythingBehind(scene, {user});
    for (const ObjectId id : came)
        if (scene.find(id) && !std::binary_search(behind.begin(), behind.end(), id)) scene = remove(scene, id).scene;
}

}  // namespace

KeptStart keepStart(const Scene& scene, StartOf of, ObjectId swarm, ObjectId thing, const std::string& name) {
    KeptStart start{of, of == StartOf::rail ? swarm : thing, name, scene};
    Scene& kept = start.scene;
    kept.unknown.clear();
    leaveAlone(kept);
    if (of == StartOf::material) {
        for (const ObjectId material : materialsBehind(kept, thing))
            if (kept.at(material).part("material").kind == &mixedMaterial)
                for (const char* mixer : {"value", "gesture"}) setReference(changed(kept, material), "material", mixer, {});
        reduceTo(kept, withCommon(kept, thing));
        return start;
    }
    const Object& from = kept.at(swarm);
    const std::string what = "“" + kept.at(start.id).name + "”";
    switch (of) {
        case StartOf::rail:
            if (from.list("rail").empty()) throw Error(what + " has no card in its rail yet; nothing was kept.");
            break;
        case StartOf::gesture:
            keepOneCard(kept, swarm, what, [&](ObjectId gesture) { return gesture == thing; });
            break;
        case StartOf::zone:
            keepOneCard(kept, swarm, what, [&](ObjectId gesture) {
                const auto zones = wovenZones(kept, gesture);
                return std::find(zones.begin(), zones.end(), thing) != zones.end();
            });
            break;
        case StartOf::formation: {
            if (kept.ownerOf(thing) != swarm) throw Error(what + " is no formation of “" + from.name + "”; nothing was kept.");
            Object& only = changed(kept, swarm);
            only.list("rail").clear();
            only.list("formations") = {thing};
            setReference(only, "place", "formation", thing);
            break;
        }
        default:
            start.id = swarm;
            break;
    }
    reduceTo(kept, withCommon(kept, swarm));
    return start;
}

Edit useStart(const Scene& scene, const KeptStart& start, const StartTarget& target) {
    const bool needsSwarm = start.of != StartOf::swarm && start.of != StartOf::material;
    if (needsSwarm && !scene.find(target.swarm)) throw Error("Select a swarm first; “" + start.name + "” is put into it.");
    if (start.of == StartOf::zone && !scene.find(target.gesture))
        throw Error("Select a gesture first; the zone “" + start.name + "” is put into where it acts.");
    Edit edit{scene, "Add " + start.name, {}, {}};
    std::vector<ObjectId> ids;
    std::map<ObjectId, ObjectId> common;
    for (const ObjectId id : start.scene.order) {
        if (!isCommon(id))
            ids.push_back(id);
        else if (const auto ours = scene.all(id.type()); !ours.empty())
            common[id] = ours.front();
    }
    const auto copies = copyAll(edit.scene, start.scene, ids);
    std::vector<ObjectId> made, came;
    for (const auto& [before, copy] : copies) made.push_back(copy);
    readdressAll(edit.scene, common, made);
    for (const ObjectId id : ids) {
        came.push_back(copies.at(id));
        changed(edit.scene, copies.at(id)).name = freeName(scene, start.scene.at(id).name);
        edit.scene.order.push_back(copies.at(id));
    }
    if (start.of == StartOf::material) {
        edit.made = copies.at(start.id);
        removeUnused(edit.scene, came, edit.made);
        if (scene.find(target.user)) edit.scene = useMaterial(edit.scene, target.user, edit.made).scene;
        return edit;
    }
    const ObjectId brought = copies.at(start.scene.all(ObjectType::swarm).front());
    switch (start.of) {
        default:
            edit.made = brought;
            return edit;
        case StartOf::rail:
        case StartOf::gesture:
            for (const ObjectId entry : edit.scene.at(brought).list("rail")) {
                const ObjectId gesture = gestureOf(edit.scene, entry);
                adoptNamedValues(edit.scene, gesture, target.swarm);
                const ObjectId card = appendCard(edit.scene, target.swarm, gesture);
                changed(edit.scene, card).part("entry") = Part(edit.scene.at(entry).part("entry"));
                edit.made = gesture;
            }
            break;
        case StartOf::zone:
            edit.made = copies.at(start.id);
            edit.scene = weaveZone(edit.scene, target.gesture, edit.made).scene;
            break;
        case StartOf::formation: {
            edit.made = copies.at(start.id);
            std::erase(changed(edit.scene, brought).list("formations"), edit.made);
            Object& swarm = changed(edit.scene, target.swarm);
            swarm.list("formations").push_back(edit.made);
            setReference(swarm, "place", "formation", edit.made);
            break;
        }
    }
    edit.scene = remove(edit.scene, brought).scene;
    removeUnused(edit.scene, came, start.of == StartOf::zone ? target.gesture : target.swarm);
    refuseCircle(edit.scene, start.of == StartOf::zone ? target.gesture : target.swarm);
    return edit;
}

}  // namespace gswarm
