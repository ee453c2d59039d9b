#include "core/resolve/references.h"

#include <algorithm>
#include <set>

#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

/// Depth first without recursion: hostile files may chain a hundred thousand objects.
std::string searched(const Scene& scene, const std::vector<ObjectId>& starts) {
    std::set<ObjectId> done, onWay;
    struct Step {
        ObjectId id;
        std::vector<ObjectId> next;
        std::size_t at = 0;
    };
    for (const ObjectId start : starts) {
        if (done.contains(start)) continue;
        std::vector<Step> way;
        way.push_back({start, usedBy(scene, start)});
        onWay = {start};
        while (!way.empty()) {
            Step& step = way.back();
            if (step.at == step.next.size()) {
                onWay.erase(step.id);
                done.insert(step.id);
                way.pop_back();
                continue;
            }
            const ObjectId next = step.next[step.at++];
            if (onWay.contains(next)) {
                std::string names;
                bool within = false;
                for (const Step& s : way) {
                    within = within || s.id == next;
                    // What lies between is owned: people know the things of their own.
                    if (within && (s.id == next || classOf(s.id.type()).plural != "")) names += scene.at(s.id).name + " → ";
                }
                return names + scene.at(next).name;
            }
            if (done.contains(next)) continue;
            onWay.insert(next);
            way.push_back({next, usedBy(scene, next)});
        }
    }
    return {};
}

}  // namespace

std::vector<ObjectId> usedBy(const Scene& scene, ObjectId id) {
    std::vector<ObjectId> out;
    const Object& object = scene.at(id);
    for (const Part& part : object.parts) {
        if (part.kind == &hangKind) continue;
        for (const Value& value : part.values)
            if (const auto* other = std::get_if<ObjectId>(&value); other && scene.find(*other)) out.push_back(*other);
        if (part.kind->feelsForces)
            for (const ObjectId force : scene.all(ObjectType::force)) out.push_back(force);
    }
    for (const auto& list : object.lists)
        for (const ObjectId child : list)
            if (scene.find(child)) out.push_back(child);
    return out;
}

std::vector<ObjectId> wovenZones(const Scene& scene, ObjectId gesture) {
    std::vector<ObjectId> zones;
    const auto& weave = scene.at(gesture).list("weave");
    std::vector<ObjectId> ahead(weave.rbegin(), weave.rend());
    while (!ahead.empty()) {
        const Object& entry = scene.at(ahead.back());
        ahead.pop_back();
        const auto& group = entry.list("group");
        ahead.insert(ahead.end(), group.rbegin(), group.rend());
        if (const ObjectId zone = referenceOf(entry.part("entry"), "zone"); group.empty() && scene.find(zone)) zones.push_back(zone);
    }
    return zones;
}

std::vector<ObjectId> swarmsRepeating(const Scene& scene, ObjectId swarm) {
    std::vector<ObjectId> all;
    for (const ObjectId other : scene.all(ObjectType::swarm)) {
        const auto& stock = scene.at(other).list("stock");
        if (std::any_of(stock.begin(), stock.end(),
                        [&](ObjectId entry) { return referenceOf(scene.at(entry).part("entry"), "shape") == swarm; }))
            all.push_back(other);
    }
    return all;
}

std::vector<ObjectId> everythingBehind(const Scene& scene, const std::vector<ObjectId>& roots) {
    std::set<ObjectId> found;
    std::vector<ObjectId> open = roots, out;
    const auto add = [&](ObjectId id) {
        if (scene.find(id) && !found.contains(id)) open.push_back(id);
    };
    while (!open.empty()) {
        const ObjectId id = open.back();
        open.pop_back();
        if (!found.insert(id).second) continue;
        out.push_back(id);
        for (const ObjectId used : usedBy(scene, id)) add(used);
        for (const Part& part : scene.at(id).parts)
            for (const Value& value : part.values) {
                if (const auto* other = std::get_if<ObjectId>(&value); other && part.kind == &hangKind) add(*other);
                if (const auto* numbers = std::get_if<Numbers>(&value))
                    for (const Track& track : *numbers)
                        for (const std::string& address : readBy(track)) add(parseObjectId(address.substr(0, address.find('/'))));
            }
    }
    std::sort(out.begin(), out.end());
    return out;
}

std::string circleFrom(const Scene& scene, const std::vector<ObjectId>& starts) { return searched(scene, starts); }

}  // namespace gswarm
