#include "core/edit/edit_parts.h"

#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"

namespace gswarm::edits {

Object& changed(Scene& scene, ObjectId id) {
    auto copy = std::make_shared<Object>(scene.at(id));
    Object& object = *copy;
    scene.objects[id] = std::move(copy);
    return object;
}

Value& valueIn(Scene& scene, const Address& a) {
    return changed(scene, a.object).parts[static_cast<std::size_t>(a.slot)].values[static_cast<std::size_t>(a.parameter)];
}

void insert(Scene& scene, const Object& object) {
    if (scene.objects.size() >= mostObjects)
        throw Error("The project has " + std::to_string(mostObjects) + " things, the limit; nothing was added.");
    scene.objects[object.id] = std::make_shared<Object>(object);
}

void refuseCard(const Scene& scene, ObjectId swarm) {
    const Object& object = scene.at(swarm);
    if (object.list("rail").size() >= static_cast<std::size_t>(mostCards))
        throw Error("“" + object.name + "” has " + std::to_string(mostCards) +
                    " cards in its rail, the limit; nothing was added. Take one out, or split it in two swarms.");
}

ObjectId appendCard(Scene& scene, ObjectId swarm, ObjectId gesture) {
    refuseCard(scene, swarm);
    Object entry = standardObject(ObjectType::rail, scene.at(gesture).name);
    setReference(entry, "entry", "gesture", gesture);
    insert(scene, entry);
    changed(scene, swarm).list("rail").push_back(entry.id);
    return entry.id;
}

std::string freeName(const Scene& scene, const std::string& wish) {
    const auto taken = [&](const std::string& name) {
        return std::any_of(scene.objects.begin(), scene.objects.end(), [&](const auto& entry) { return entry.second->name == name; });
    };
    std::string start = wish.substr(0, longestTypedName);
    // Not in the middle of a character.
    while (start.size() < wish.size() && !start.empty() && (wish[start.size()] & 0xC0) == 0x80) start.pop_back();
    std::string name = start;
    for (int n = 2; taken(name); ++n) name = start + " " + std::to_string(n);
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

namespace {

ObjectId copied(Scene& scene, ObjectId id, std::map<std::string, std::string>& names) {
    Object copy = scene.at(id);
    copy.id = newObjectId(id.type());
    names[toText(id)] = toText(copy.id);
    for (auto& list : copy.lists)
        for (auto& child : list) child = copied(scene, child, names);
    insert(scene, copy);
    return copy.id;
}

void readdress(std::string& address, const std::map<std::string, std::string>& names) {
    const auto slash = address.find('/');
    if (const auto found = names.find(address.substr(0, slash)); found != names.end()) address.replace(0, slash, found->second);
}

/// Numbers that read numbers of the copied things read those of the copies.
void readdress(Track& track, const std::map<std::string, std::string>& names) {
    if (track.link) {
        Link link = *track.link;
        readdress(link.to, names);
        track.link = std::make_shared<const Link>(link);
    }
    if (track.formula) {
        Formula formula = *track.formula;
        for (auto& [name, address] : formula.names) readdress(address, names);
        track.formula = std::make_shared<const Formula>(formula);
    }
}

}  // namespace

ObjectId copyWithOwned(Scene& scene, ObjectId id) {
    std::map<std::string, std::string> names;
    const ObjectId made = copied(scene, id, names);
    for (const auto& [from, to] : names)
        for (Part& part : changed(scene, parseObjectId(to)).parts)
            for (Value& value : part.values) {
                if (auto* numbers = std::get_if<Numbers>(&value))
                    for (Track& track : *numbers) readdress(track, names);
                else if (auto* formula = std::get_if<Formula>(&value))
                    for (auto& [name, address] : formula->names) readdress(address, names);
            }
    return made;
}

void setText(Object& object, std::string_view slot, std::string_view parameter, const std::string& to) {
    Part& part = object.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = to;
}

void refuseCircle(const Scene& scene, ObjectId changed) {
    if (const std::string circle = circleFrom(scene, {changed}); !circle.empty())
        throw Error("That would make a circle: " + circle + ". It was kept as it was.");
}

}  // namespace gswarm::edits
