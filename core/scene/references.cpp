#include "core/scene/references.h"

#include <set>

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
    for (const Part& part : object.parts)
        for (const Value& value : part.values)
            if (const auto* other = std::get_if<ObjectId>(&value); other && scene.find(*other)) out.push_back(*other);
    for (const auto& list : object.lists)
        for (const ObjectId child : list)
            if (scene.find(child)) out.push_back(child);
    return out;
}

std::string circleIn(const Scene& scene) {
    std::vector<ObjectId> all;
    for (const auto& [id, object] : scene.objects) all.push_back(id);
    return searched(scene, all);
}

std::string circleFrom(const Scene& scene, ObjectId start) { return searched(scene, {start}); }

}  // namespace gswarm
