#include "core/read/outline.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/resolve/references.h"

namespace gswarm {
namespace {

struct Making {
    const Scene& scene;
    std::map<ObjectId, int> times;  ///< how often each is shown

    OutlineRow row(ObjectId id) {
        ++times[id];
        return {id, false, {}};
    }

    /// The shapes that an object's parts refer to, each once.
    void addShapes(ObjectId id, OutlineRow& to) {
        std::set<ObjectId> seen;
        for (const Part& part : scene.at(id).parts)
            for (std::size_t v = 0; v < part.values.size(); ++v) {
                const auto* shape = std::get_if<ObjectId>(&part.values[v]);
                if (!shape || shape->type() != ObjectType::shape || !scene.find(*shape) || !applies(part.kind->parameters[v], part))
                    continue;
                if (seen.insert(*shape).second) to.under.push_back(row(*shape));
            }
    }

    /// What acts where zones are woven: a gesture, or a force.
    OutlineRow woven(ObjectId id) {
        OutlineRow made = row(id);
        std::set<ObjectId> seen;
        for (const ObjectId zone : wovenZones(scene, id)) {
            if (!seen.insert(zone).second) continue;
            made.under.push_back(row(zone));
            addShapes(zone, made.under.back());
        }
        addShapes(id, made);
        return made;
    }

    OutlineRow swarm(ObjectId id) {
        OutlineRow made = row(id);
        const Object& object = scene.at(id);
        for (const ObjectId entry : object.list("stock")) {
            const ObjectId shape = referenceOf(scene.at(entry).part("entry"), "shape");
            made.under.push_back(scene.find(shape) ? other(shape) : row(entry));
        }
        for (const ObjectId formation : object.list("formations")) {
            made.under.push_back(row(formation));
            addShapes(formation, made.under.back());
        }
        for (const ObjectId entry : object.list("rail"))
            if (const ObjectId id = referenceOf(scene.at(entry).part("entry"), "gesture"); scene.find(id)) made.under.push_back(woven(id));
        for (const ObjectId symmetry : object.list("symmetries")) made.under.push_back(row(symmetry));
        return made;
    }

    OutlineRow other(ObjectId id) {
        if (id.type() == ObjectType::swarm) return swarm(id);
        if (id.type() == ObjectType::gesture || id.type() == ObjectType::force) return woven(id);
        OutlineRow made = row(id);
        if (id.type() == ObjectType::zone || id.type() == ObjectType::shape) addShapes(id, made);
        return made;
    }

    /// What stands in a group (or in none), without what is shown under a swarm already.
    std::vector<OutlineRow> members(ObjectId group, const std::set<ObjectId>& shown) {
        std::vector<OutlineRow> rows;
        for (const ObjectType type : {ObjectType::group, ObjectType::swarm, ObjectType::gesture, ObjectType::force, ObjectType::zone,
                                      ObjectType::shape, ObjectType::material, ObjectType::media, ObjectType::sound, ObjectType::light,
                                      ObjectType::camera, ObjectType::mount, ObjectType::project})
            for (const ObjectId id : scene.all(type)) {
                const ObjectId in = scene.at(id).group;
                if (in != group || (!in && shown.contains(id))) continue;
                rows.push_back(other(id));
                if (type == ObjectType::group) rows.back().under = members(id, shown);
            }
        return rows;
    }

    void mark(std::vector<OutlineRow>& rows) const {
        for (OutlineRow& row : rows) {
            row.shared = times.at(row.id) > 1;
            mark(row.under);
        }
    }
};

void collect(const std::vector<OutlineRow>& rows, std::set<ObjectId>& into) {
    for (const OutlineRow& row : rows) {
        into.insert(row.id);
        collect(row.under, into);
    }
}

}  // namespace

std::vector<OutlineRow> outlineOf(const Scene& scene) {
    // What is shown under a swarm, or under what stands free, needs no row of its own.
    Making first{scene, {}};
    std::set<ObjectId> shown;
    for (const ObjectType type : {ObjectType::swarm, ObjectType::gesture, ObjectType::force, ObjectType::zone, ObjectType::shape})
        for (const ObjectId id : scene.all(type)) {
            if (shown.contains(id)) continue;
            collect(first.other(id).under, shown);
        }
    Making making{scene, {}};
    std::vector<OutlineRow> rows = making.members({}, shown);
    // Groups after the swarms.
    std::stable_partition(rows.begin(), rows.end(), [](const OutlineRow& row) { return row.id.type() == ObjectType::swarm; });
    making.mark(rows);
    return rows;
}

}  // namespace gswarm
