#include "core/edit/edit_parts.h"

#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"

namespace gswarm::edits {

ObjectId gestureOf(const Scene& scene, ObjectId railEntry) { return referenceOf(scene.at(railEntry).part("entry"), "gesture"); }

double toMillimetres(double metres) { return std::round(metres * 1000) / 1000; }

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
    // A further one looks like the first until it gets a material of its own.
    if (const auto& stock = scene.at(swarm).list("stock"); !stock.empty())
        setReference(entry, "entry", "material", referenceOf(scene.at(stock.front()).part("entry"), "material"));
    insert(scene, entry);
    changed(scene, swarm).list("stock").push_back(entry.id);
    return entry.id;
}

namespace {

using Copies = std::map<ObjectId, ObjectId>;

void copyObject(Scene& scene, const Scene& from, ObjectId id, Copies& copies) {
    Object copy = from.at(id);
    copy.id = newObjectId(id.type());
    copies[id] = copy.id;
    for (auto& list : copy.lists)
        for (auto& child : list) {
            copyObject(scene, from, child, copies);
            child = copies[child];
        }
    insert(scene, copy);
}

void readdress(std::string& address, const Copies& copies) {
    const auto slash = address.find('/');
    if (const auto found = copies.find(parseObjectId(address.substr(0, slash))); found != copies.end())
        address.replace(0, slash, toText(found->second));
}

void readdress(Track& track, const Copies& copies) {
    if (track.link) {
        Link link = *track.link;
        readdress(link.to, copies);
        track.link = std::make_shared<const Link>(link);
    }
    if (track.formula) {
        Formula formula = *track.formula;
        for (auto& [name, address] : formula.names) readdress(address, copies);
        track.formula = std::make_shared<const Formula>(formula);
    }
}

void readdress(Value& value, const Copies& copies) {
    if (auto* numbers = std::get_if<Numbers>(&value))
        for (Track& track : *numbers) readdress(track, copies);
    else if (auto* formula = std::get_if<Formula>(&value))
        for (auto& [name, address] : formula->names) readdress(address, copies);
    else if (auto* id = std::get_if<ObjectId>(&value))
        if (const auto found = copies.find(*id); found != copies.end()) *id = found->second;
}

}  // namespace

void readdressAll(Scene& scene, const std::map<ObjectId, ObjectId>& copies, const std::vector<ObjectId>& objects) {
    for (const ObjectId id : objects) {
        Object& object = changed(scene, id);
        for (Part& part : object.parts)
            for (Value& value : part.values) readdress(value, copies);
        if (const auto group = copies.find(object.group); group != copies.end()) object.group = group->second;
    }
}

std::map<ObjectId, ObjectId> copyAll(Scene& scene, const Scene& from, const std::vector<ObjectId>& ids) {
    Copies copies;
    for (const ObjectId id : ids)
        if (!copies.contains(id)) copyObject(scene, from, id, copies);
    std::vector<ObjectId> made;
    for (const auto& [before, copy] : copies) made.push_back(copy);
    readdressAll(scene, copies, made);
    return copies;
}

ObjectId copyWithOwned(Scene& scene, ObjectId id) { return copyAll(scene, Scene(scene), {id}).at(id); }

void setText(Object& object, std::string_view slot, std::string_view parameter, const std::string& to) {
    Part& part = object.part(slot);
    part.values[static_cast<std::size_t>(part.kind->indexOf(parameter))] = to;
}

void refuseCircle(const Scene& scene, ObjectId changed) {
    if (const std::string circle = circleFrom(scene, {changed}); !circle.empty())
        throw Error("That would make a circle: " + circle + ". It was kept as it was.");
}

}  // namespace gswarm::edits
