#include "core/resolve/soundness.h"

#include <algorithm>
#include <set>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/resolve/hanging.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/scene/address.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

void checkObject(const Object& object) {
    const ObjectClass& objectClass = classOf(object.id.type());
    const std::string who = objectClass.label + " “" + object.name + "”";
    if (characterCount(object.name) > longestName)
        throw Error("A " + objectClass.id + " has a name of more than " + std::to_string(longestName) + " characters.");
    for (std::size_t s = 0; s < object.parts.size(); ++s)
        for (std::size_t v = 0; v < object.parts[s].values.size(); ++v) {
            const Parameter& p = object.parts[s].kind->parameters[v];
            checkValue(p, object.parts[s].values[v], who + ", " + objectClass.slotInfos[s].id + ", “" + p.id + "”,");
        }
}

bool movesAnything(const Part& part, std::size_t value) {
    const auto* numbers = std::get_if<Numbers>(&part.values[value]);
    return numbers && std::any_of(numbers->begin(), numbers->end(), [](const Track& t) { return t.link || t.formula; });
}

void checkNumbers(const Scene& scene, const Object& object) {
    for (std::size_t s = 0; s < object.parts.size(); ++s)
        for (std::size_t v = 0; v < object.parts[s].values.size(); ++v) {
            if (!movesAnything(object.parts[s], v)) continue;
            const std::string circle = circleOfNumbers(scene, {object.id, static_cast<int>(s), static_cast<int>(v), -1});
            if (!circle.empty()) throw Error("There are settings that follow themselves: " + circle + ".");
        }
}

void checkSwarm(const Object& swarm) {
    const auto& formations = swarm.list("formations");
    if (std::find(formations.begin(), formations.end(), referenceOf(swarm.part("place"), "formation")) == formations.end())
        throw Error("Swarm “" + swarm.name + "” has no formation of its own that is on.");
}

/// Groups stand in groups, but not in themselves.
void checkGroup(const Scene& scene, const Object& object, bool owned) {
    if (!object.group) return;
    const std::string who = "“" + object.name + "”";
    if (owned) throw Error(who + " belongs to another thing and can't stand in a group of its own.");
    std::size_t steps = 0;
    for (const Object* group = &object; group->group; group = scene.find(group->group)) {
        if (!scene.find(group->group)) throw Error(who + " stands in a group that is not in the project.");
        if (++steps > scene.objects.size()) throw Error("Group “" + group->name + "” stands in itself.");
    }
}

bool hangs(const Object& object) {
    return std::any_of(object.parts.begin(), object.parts.end(),
                       [](const Part& part) { return part.kind == &hangKind && choiceOf(part, "by") != "none"; });
}

}  // namespace

void refuseUnsound(const Scene& scene, const Scene& before) {
    if (scene.all(ObjectType::project).size() != 1) throw Error("There must be exactly one project.");
    if (scene.objects.size() > mostObjects) throw Error("There are more things than the limit of " + std::to_string(mostObjects) + ".");
    const std::set<ObjectId> free(scene.order.begin(), scene.order.end());
    std::vector<ObjectId> changed;
    for (const auto& [id, object] : scene.objects) {
        const auto was = before.objects.find(id);
        if (was != before.objects.end() && was->second == object) continue;
        changed.push_back(id);
        checkObject(*object);
        if (id.type() == ObjectType::swarm) checkSwarm(*object);
    }
    if (const std::string circle = circleFrom(scene, changed); !circle.empty())
        throw Error("There are things that stand on themselves: " + circle + ".");
    if (parseRate(choiceOf(scene.project().part("settings"), "rate")) == 0) throw Error("The frame rate is not a number above 0.");
    for (const ObjectId id : changed) checkNumbers(scene, scene.at(id));
    // A group may have gone without its members having changed.
    for (const auto& [id, object] : scene.objects) checkGroup(scene, *object, !free.contains(id));
    // Who carries a shape that others follow depends on all swarms, so that no change is only its own.
    for (const auto& [id, object] : scene.objects)
        if (hangs(*object))
            if (const std::string circle = circleOfHanging(scene, id); !circle.empty())
                throw Error("There are things that hang from themselves: " + circle + ".");
}

}  // namespace gswarm
