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

/// The part of a gesture that shares a world; null for one that does not.
const Part* sharingPart(const Scene& scene, ObjectId railEntry) {
    const Object* gesture = scene.find(referenceOf(scene.at(railEntry).part("entry"), "gesture"));
    if (!gesture) return nullptr;
    const Part& change = gesture->part("change");
    return change.kind->sharesWith.empty() ? nullptr : &change;
}

/// A swarm's first card that can share a world, and with which swarm it says so.
struct Sharing {
    WorldMember member;
    ObjectId with;
};
std::vector<Sharing> allSharing(const Scene& scene) {
    std::vector<Sharing> all;
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
        const auto& rail = scene.at(swarm).list("rail");
        for (std::size_t c = 0; c < rail.size(); ++c)
            if (const Part* part = sharingPart(scene, rail[c])) {
                all.push_back({{swarm, static_cast<int>(c)}, referenceOf(*part, part->kind->sharesWith)});
                break;
            }
    }
    return all;
}

/// What those that share a world with a gesture's swarms make of it goes by: all that stands before their cards, and what their
/// gestures refer to. The swarms themselves are not meant: each goes by the other.
void addShared(const Scene& scene, ObjectId gesture, std::vector<ObjectId>& out) {
    for (const ObjectId entry : scene.referringTo(gesture)) {
        if (entry.type() != ObjectType::rail) continue;
        for (const WorldMember& member : worldOf(scene, scene.ownerOf(entry))) {
            const Object& swarm = scene.at(member.swarm);
            out.push_back(referenceOf(swarm.part("place"), "formation"));
            for (const ObjectId stock : swarm.list("stock")) out.push_back(stock);
            const auto& rail = swarm.list("rail");
            for (int c = 0; c < member.card; ++c) out.push_back(rail[static_cast<std::size_t>(c)]);
            const Object& own = scene.at(referenceOf(scene.at(rail[static_cast<std::size_t>(member.card)]).part("entry"), "gesture"));
            for (const ObjectId zone : wovenZones(scene, own.id)) out.push_back(zone);
            for (const Part& part : own.parts)
                for (std::size_t v = 0; v < part.values.size(); ++v) {
                    const auto* other = std::get_if<ObjectId>(&part.values[v]);
                    if (other && scene.find(*other) && part.kind->parameters[v].id != part.kind->sharesWith) out.push_back(*other);
                }
        }
    }
}

}  // namespace

std::vector<WorldMember> worldOf(const Scene& scene, ObjectId swarm) {
    const auto& rail = scene.at(swarm).list("rail");
    if (std::none_of(rail.begin(), rail.end(), [&](ObjectId entry) { return sharingPart(scene, entry); })) return {};
    const std::vector<Sharing> all = allSharing(scene);
    std::set<ObjectId> inside{swarm};
    for (bool grows = true; grows;) {
        grows = false;
        for (const Sharing& one : all) {
            const bool other = std::any_of(all.begin(), all.end(), [&](const Sharing& s) { return s.member.swarm == one.with; });
            if (!other || inside.contains(one.member.swarm) == inside.contains(one.with)) continue;
            inside.insert(one.member.swarm);
            inside.insert(one.with);
            grows = true;
        }
    }
    std::vector<WorldMember> members;
    for (const Sharing& one : all)
        if (inside.contains(one.member.swarm)) members.push_back(one.member);
    std::sort(members.begin(), members.end(), [](const WorldMember& a, const WorldMember& b) { return a.swarm < b.swarm; });
    return members.size() > 1 ? members : std::vector<WorldMember>{};
}

std::vector<ObjectId> usedBy(const Scene& scene, ObjectId id) {
    std::vector<ObjectId> out;
    const Object& object = scene.at(id);
    for (const Part& part : object.parts) {
        if (part.kind == &hangKind) continue;
        for (std::size_t v = 0; v < part.values.size(); ++v) {
            const auto* other = std::get_if<ObjectId>(&part.values[v]);
            const bool shares = !part.kind->sharesWith.empty() && part.kind->parameters[v].id == part.kind->sharesWith;
            if (other && scene.find(*other) && !shares) out.push_back(*other);
        }
        if (!part.kind->sharesWith.empty()) addShared(scene, id, out);
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
