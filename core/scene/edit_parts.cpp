#include "core/scene/edit_parts.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/scene/references.h"

namespace gswarm::edits {

Object& changed(Scene& scene, ObjectId id) {
    auto copy = std::make_shared<Object>(scene.at(id));
    Object& object = *copy;
    scene.objects[id] = std::move(copy);
    return object;
}

void insert(Scene& scene, const Object& object) { scene.objects[object.id] = std::make_shared<Object>(object); }

std::string freeName(const Scene& scene, const std::string& wish) {
    const auto taken = [&](const std::string& name) {
        return std::any_of(scene.objects.begin(), scene.objects.end(), [&](const auto& entry) { return entry.second->name == name; });
    };
    std::string name = wish;
    for (int n = 2; taken(name); ++n) name = wish + " " + std::to_string(n);
    return name;
}

void setReference(Object& object, std::string_view slot, std::string_view parameter, ObjectId to) {
    Part& part = object.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = to;
}

ObjectId appendStock(Scene& scene, ObjectId swarm, ObjectId shape) {
    Object entry = standardObject(ObjectType::stock, scene.at(shape).name);
    setReference(entry, "entry", "shape", shape);
    insert(scene, entry);
    changed(scene, swarm).list("stock").push_back(entry.id);
    return entry.id;
}

ObjectId copyWithOwned(Scene& scene, ObjectId id) {
    Object copy = scene.at(id);
    copy.id = newObjectId(id.type());
    for (auto& list : copy.lists)
        for (auto& child : list) child = copyWithOwned(scene, child);
    insert(scene, copy);
    return copy.id;
}

void setText(Object& object, std::string_view slot, std::string_view parameter, const std::string& to) {
    Part& part = object.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = to;
}

void refuseCircle(const Scene& scene, ObjectId changed) {
    if (const std::string circle = circleFrom(scene, changed); !circle.empty())
        throw Error("That would make a circle: " + circle + ". It was kept as it was.");
}

}  // namespace gswarm::edits
