#include "core/edit/edit.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <optional>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit_parts.h"
#include "core/edit/first_references.h"
#include "core/edit/material_edits.h"
#include "core/edit/membrane_edits.h"
#include "core/formula/bind.h"
#include "core/kinds/registry.h"
#include "core/light/light_kind.h"
#include "core/resolve/hanging.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"
#include "core/time/track.h"

namespace gswarm {

using namespace edits;

namespace {

std::string told(const Parameter& p, const Value& value, int component) {
    if (const auto* numbers = std::get_if<Numbers>(&value)) {
        std::string out;
        for (int c = 0; c < static_cast<int>(numbers->size()); ++c)
            if (component < 0 || component == c) {
                const Track& track = (*numbers)[static_cast<std::size_t>(c)];
                out += (out.empty() ? "" : ", ") + (track.keyed()   ? "keyed"
                                                    : track.formula ? "a formula"
                                                    : track.link    ? "a link"
                                                                    : shortNumber(track.value));
            }
        return out;
    }
    if (const auto* on = std::get_if<bool>(&value)) return *on ? "on" : "off";
    if (const auto* formula = std::get_if<Formula>(&value)) return formula->text.size() > 40 ? "…" : formula->text;
    if (const auto* points = std::get_if<Points>(&value)) return std::to_string(points->size()) + " points";
    if (const auto* text = std::get_if<std::string>(&value)) {
        for (const auto& choice : p.choices)
            if (choice.id == *text) return choice.label;
        return *text;
    }
    return {};
}

std::string labelFor(const Scene& scene, const Address& a, const Value& before, const Value& after) {
    const Parameter& p = parameterAt(scene, a);
    const std::string from = told(p, before, a.component), to = told(p, after, a.component);
    std::string label = scene.at(a.object).name + ": " + p.label;
    if (!from.empty() && !to.empty()) label += " " + from + " → " + to + (p.unit.empty() ? "" : " " + p.unit);
    return label;
}

ObjectId appendWeave(Scene& scene, ObjectId gesture, ObjectId zone) {
    Object entry = standardObject(ObjectType::weave, scene.at(zone).name);
    setReference(entry, "entry", "zone", zone);
    insert(scene, entry);
    changed(scene, gesture).list("weave").push_back(entry.id);
    return entry.id;
}

void removeWithOwned(Scene& scene, ObjectId id) {
    const Object object = scene.at(id);
    // What stands in a group stands where the group stood.
    if (id.type() == ObjectType::group)
        for (const ObjectId other : scene.order)
            if (scene.at(other).group == id) changed(scene, other).group = object.group;
    for (const auto& list : object.lists)
        for (const ObjectId child : list) removeWithOwned(scene, child);
    if (const ObjectId owner = scene.ownerOf(id))
        for (auto& list : changed(scene, owner).lists) std::erase(list, id);
    std::erase(scene.order, id);
    scene.objects.erase(id);
    if (id.type() == ObjectType::gesture)
        for (const ObjectId user : scene.referringTo(id)) removeWithOwned(scene, user);
    if (id.type() != ObjectType::rail) return;
    const ObjectId gesture = referenceOf(object.part("entry"), "gesture");
    if (scene.find(gesture) && scene.referringTo(gesture).empty()) removeWithOwned(scene, gesture);
}

/// A value after an object was renamed; empty where no formula of it names the object.
std::optional<Value> renamedIn(const Value& value, ObjectId id, const std::string& name) {
    if (const auto* formula = std::get_if<Formula>(&value); formula && !formula->names.empty())
        return Value(gswarm::renamedIn(*formula, id, name));
    const auto* numbers = std::get_if<Numbers>(&value);
    if (!numbers) return std::nullopt;
    Numbers out = *numbers;
    bool found = false;
    for (Track& track : out) {
        if (!track.formula || track.formula->names.empty()) continue;
        track.formula = std::make_shared<const Formula>(gswarm::renamedIn(*track.formula, id, name));
        found = true;
    }
    return found ? std::optional<Value>(out) : std::nullopt;
}

/// A name that formulas write often may make them longer than may be.
void refuseLongFormula(const Value& value, const Object& object) {
    const auto check = [&](const Formula& formula) {
        if (formula.text.size() > longestFormula)
            throw Error("That name would make a formula of “" + object.name + "” longer than " + std::to_string(longestFormula) +
                        " characters; choose a shorter one.");
    };
    if (const auto* formula = std::get_if<Formula>(&value)) check(*formula);
    if (const auto* numbers = std::get_if<Numbers>(&value))
        for (const Track& track : *numbers)
            if (track.formula) check(*track.formula);
}

/// The first swarm in whose rail a gesture stands.
ObjectId swarmOf(const Scene& scene, ObjectId gesture) {
    for (const ObjectId user : scene.referringTo(gesture))
        if (user.type() == ObjectType::rail) return scene.ownerOf(user);
    return {};
}

/// Whose rail an object works in, where a new kind may need something to refer to.
ObjectId swarmAround(const Scene& scene, ObjectId id) {
    if (id.type() == ObjectType::swarm) return id;
    if (id.type() == ObjectType::gesture) return swarmOf(scene, id);
    if (id.type() == ObjectType::force) {
        // It acts on all.
        const auto swarms = scene.all(ObjectType::swarm);
        return swarms.empty() ? ObjectId{} : swarms.front();
    }
    if (id.type() != ObjectType::zone) return {};
    for (const ObjectId entry : scene.referringTo(id)) {
        ObjectId owner = entry;
        while (owner.type() == ObjectType::weave) owner = scene.ownerOf(owner);
        if (owner.type() == ObjectType::gesture || owner.type() == ObjectType::force) return swarmAround(scene, owner);
    }
    return {};
}

/// A choice means the same only among the same alternatives.
bool sameChoices(const Parameter& a, const Parameter& b) {
    return std::equal(a.choices.begin(), a.choices.end(), b.choices.begin(), b.choices.end(),
                      [](const Choice& x, const Choice& y) { return x.id == y.id; });
}

}  // namespace

Edit setValue(const Scene& scene, const Address& a, const Value& value) {
    const Parameter& p = parameterAt(scene, a);
    if (p.heard)
        throw Error("“" + p.label + "” is what is heard, and can't be set: link other numbers to it, or name it in their formulas.");
    checkValue(p, value, "“" + p.label + "” of “" + scene.at(a.object).name + "”");
    if (const auto* rate = std::get_if<std::string>(&value); rate && p.id == "rate" && parseRate(*rate) == 0)
        throw Error("The frame rate must be a number above 0 and at most 1000, not “" + *rate + "”; it was kept.");
    const Value before = valueOf(scene, a);
    Edit edit{scene, labelFor(scene, a, before, value), toText(scene, a), {}};
    valueIn(edit.scene, a) = value;
    if (std::holds_alternative<ObjectId>(value)) refuseCircle(edit.scene, a.object);
    if (const std::string circle = circleOfNumbers(edit.scene, a); !circle.empty())
        throw Error("That would make a circle of settings: " + circle + ". It was kept as it was.");
    if (const std::string circle = circleOfHanging(edit.scene, a.object); !circle.empty())
        throw Error("That would make a circle of hanging: " + circle + ". It was kept as it was.");
    return edit;
}

Edit setNumber(const Scene& scene, const Address& a, double value, double frame) {
    Numbers numbers = numbersAt(scene, a);
    for (int c = 0; c < static_cast<int>(numbers.size()); ++c) {
        if (a.component >= 0 && a.component != c) continue;
        Track& track = numbers[static_cast<std::size_t>(c)];
        if (track.formula || track.link)
            throw Error(scene.at(a.object).name + ": " + parameterAt(scene, a).label + " is moved by a " +
                        (track.link ? "link" : "formula") +
                        ", so it can't be set by hand; the mark before its value makes it fixed again.");
        track = track.keyed() ? withKey(track, frame, value, Ease::eased) : Track{value};
    }
    return setValue(scene, a, numbers);
}

Edit rename(const Scene& scene, ObjectId id, const std::string& name) {
    if (name.find_first_not_of(' ') == std::string::npos || name.size() > longestTypedName || !isUtf8(name))
        throw Error("A name needs 1 to " + std::to_string(longestTypedName) + " characters; “" + scene.at(id).name + "” was kept.");
    Edit edit{scene, "Rename " + scene.at(id).name + " to " + name, {}, {}};
    changed(edit.scene, id).name = name;
    // Formulas go on meaning the same numbers.
    for (const auto& [user, object] : scene.objects)
        for (std::size_t p = 0; p < object->parts.size(); ++p)
            for (std::size_t v = 0; v < object->parts[p].values.size(); ++v)
                if (auto renamed = renamedIn(object->parts[p].values[v], id, name)) {
                    refuseLongFormula(*renamed, *object);
                    changed(edit.scene, user).parts[p].values[v] = *renamed;
                }
    return edit;
}

bool kindSuits(const Scene& scene, ObjectId object, std::string_view slot, const Kind& kind) {
    if (kind.family != Family::shape || slot != "maker") return true;
    for (const ObjectId user : scene.referringTo(object))
        for (const Part& part : scene.at(user).parts)
            for (const Parameter& p : part.kind->parameters)
                if (p.type == ParameterType::reference && referenceOf(part, p.id) == object && applies(p, part) &&
                    !gives(static_cast<const ShapeKind&>(kind), p.needs))
                    return false;
    return true;
}

Edit setKind(const Scene& scene, ObjectId id, std::string_view slot, const Kind& kind) {
    Edit edit{scene, scene.at(id).name + ": " + kind.label, {}, {}};
    Part& part = changed(edit.scene, id).part(slot);
    Part next = standardPart(kind);
    for (std::size_t i = 0; i < kind.parameters.size(); ++i) {
        const int old = part.kind->indexOf(kind.parameters[i].id);
        if (old < 0 || !sameChoices(kind.parameters[i], part.kind->parameters[static_cast<std::size_t>(old)])) continue;
        const Value& value = part.values[static_cast<std::size_t>(old)];
        // "Steps" of a rounded edge are not those of a circle: each kind of shape has standards of its own.
        if (kind.family == Family::shape && value == part.kind->parameters[static_cast<std::size_t>(old)].standard) continue;
        try {
            checkValue(kind.parameters[i], value, "");
            next.values[i] = value;
        } catch (const Error&) {
            // Of the same name but not the same meaning: the new kind's default stands.
        }
    }
    if (kind.family == Family::shape && standOnCorners(scene, id))
        for (const auto& [parameter, value] : static_cast<const ShapeKind&>(kind).carriedFrom) {
            const auto at = static_cast<std::size_t>(kind.indexOf(parameter));
            if (next.values[at] == kind.parameters[at].standard) next.values[at] = value;
        }
    part = std::move(next);
    giveReferences(edit.scene, id, slot, swarmAround(edit.scene, id));
    refuseCircle(edit.scene, id);
    return edit;
}

namespace {

/// A swarm that another one repeats is seen there, no longer where it stands.
void hideRepeated(Edit& edit, ObjectId repeated, ObjectId by) {
    if (repeated.type() != ObjectType::swarm || !switchOf(edit.scene.at(repeated).part("place"), "shown")) return;
    edit.scene = setValue(edit.scene, addressOf(edit.scene, repeated, "shown"), false).scene;
    edit.told = "“" + edit.scene.at(repeated).name + "” is seen in “" + edit.scene.at(by).name + "” now; its own switch is off.";
}

/// A thing that no other owns.
Edit added(const Scene& scene, const Object& thing) {
    Edit edit{scene, "Add " + thing.name, {}, thing.id};
    insert(edit.scene, thing);
    edit.scene.order.push_back(thing.id);
    return edit;
}

}  // namespace

Edit addShape(const Scene& scene, const Kind& kind) {
    if (const auto& shapeKind = static_cast<const ShapeKind&>(kind); shapeKind.swarm)
        return shapeKind.carried ? addCarriedShape(scene, kind) : addShapeOfSwarm(scene, kind);
    const Object shape = standardObject(ObjectType::shape, freeName(scene, kind.label), {&kind});
    Edit edit = added(scene, shape);
    // What is made of curves or surfaces begins with some.
    const auto swarms = scene.all(ObjectType::swarm);
    if (!swarms.empty() &&
        std::any_of(kind.parameters.begin(), kind.parameters.end(), [](const Parameter& p) { return p.needs != Needs::anything; }))
        giveReferences(edit.scene, edit.made, "maker", swarms.front());
    return edit;
}

Edit forEach(const Scene& scene, const std::vector<ObjectId>& things, const std::function<Edit(const Scene&, ObjectId)>& make) {
    Edit edit = make(scene, things.front());
    for (std::size_t k = 1; k < things.size(); ++k)
        if (edit.scene.find(things[k])) edit.scene = make(edit.scene, things[k]).scene;
    return edit;
}

Edit addLight(const Scene& scene, const Kind& kind) {
    const Object light = standardObject(ObjectType::light, freeName(scene, kind.label), {&kind});
    Edit edit = added(scene, light);
    if (!static_cast<const LightKind&>(kind).fromEverywhere) return edit;
    for (const ObjectId other : scene.all(ObjectType::light)) {
        if (!static_cast<const LightKind&>(*scene.at(other).part("light").kind).fromEverywhere) continue;
        edit.scene = setValue(edit.scene, addressOf(edit.scene, other, "strength"), fixedNumbers({0})).scene;
        edit.told += (edit.told.empty() ? "" : " ") + scene.at(other).name + " gives no light now.";
    }
    return edit;
}

Edit addMedia(const Scene& scene, const Kind& kind) {
    return added(scene, standardObject(ObjectType::media, freeName(scene, kind.label), {&kind}));
}

Edit addSound(const Scene& scene, const Kind& kind) {
    return added(scene, standardObject(ObjectType::sound, freeName(scene, kind.label), {&kind}));
}

Edit addForce(const Scene& scene, const Kind& kind) {
    return added(scene, standardObject(ObjectType::force, freeName(scene, kind.label), {&kind}));
}

Edit addMount(const Scene& scene) {
    const Object mount = standardObject(ObjectType::mount, freeName(scene, "Mount"));
    return added(scene, mount);
}

Edit addSwarm(const Scene& scene) {
    const Edit box = addShape(scene, boxShape);
    return addSwarmOf(box.scene, box.made);
}

Edit addSwarmOf(const Scene& scene, ObjectId shape) {
    Edit edit{scene, "New swarm", {}, {}};
    Object swarm = standardObject(ObjectType::swarm, freeName(scene, "Swarm"));
    const Object formation = standardObject(ObjectType::formation, "Formation");
    insert(edit.scene, formation);
    swarm.list("formations").push_back(formation.id);
    setReference(swarm, "place", "formation", formation.id);
    insert(edit.scene, swarm);
    const ObjectId stock = appendStock(edit.scene, swarm.id, shape);
    edit.scene.order.push_back(swarm.id);
    // A light looks like nothing, but shines where it is.
    if (shape.type() == ObjectType::light)
        edit.scene =
            setValue(edit.scene, addressOf(edit.scene, swarm.id, "position"), valueOf(scene, addressOf(scene, shape, "position"))).scene;
    if (shape.type() == ObjectType::shape) edit.scene = addMaterialFor(edit.scene, stock, materialStarts().front()).scene;
    edit.made = swarm.id;
    if (shape.type() == ObjectType::swarm) edit.scene = setValue(edit.scene, addressOf(edit.scene, swarm.id, "stock-rule-fit"), true).scene;
    hideRepeated(edit, shape, swarm.id);
    return edit;
}

Edit addGesture(const Scene& scene, ObjectId swarm, const Object& gesture) {
    Object made = gesture;
    made.name = freeName(scene, gesture.name);
    Edit edit{scene, "Add " + made.name, {}, made.id};
    insert(edit.scene, made);
    edit.scene.order.push_back(made.id);
    appendCard(edit.scene, swarm, made.id);
    for (const char* slot : {"change", "pattern"}) giveReferences(edit.scene, made.id, slot, swarm);
    refuseCircle(edit.scene, swarm);
    return edit;
}

Edit addZone(const Scene& scene, ObjectId gesture, const Kind& kind) {
    const Object zone = standardObject(ObjectType::zone, freeName(scene, kind.label + " zone"), {&kind});
    Edit edit{scene, scene.at(gesture).name + ": where " + zone.name, {}, zone.id};
    insert(edit.scene, zone);
    edit.scene.order.push_back(zone.id);
    appendWeave(edit.scene, gesture, zone.id);
    giveReferences(edit.scene, zone.id, "form", swarmAround(edit.scene, gesture));
    return edit;
}

Edit weaveZone(const Scene& scene, ObjectId gesture, ObjectId zone) {
    Edit edit{scene, scene.at(gesture).name + ": where " + scene.at(zone).name, {}, {}};
    edit.made = appendWeave(edit.scene, gesture, zone);
    refuseCircle(edit.scene, gesture);
    return edit;
}

Edit addStock(const Scene& scene, ObjectId swarm, ObjectId shape) {
    Edit edit{scene, scene.at(swarm).name + ": also repeat " + scene.at(shape).name, {}, {}};
    edit.made = appendStock(edit.scene, swarm, shape);
    refuseCircle(edit.scene, swarm);
    hideRepeated(edit, shape, swarm);
    return edit;
}

Edit remove(const Scene& scene, ObjectId id) {
    if (id.type() == ObjectType::project) throw Error("The project's own settings can't be deleted.");
    const bool last = scene.all(id.type()).size() == 1;
    if (id.type() == ObjectType::camera && last) throw Error("A project needs a camera; move this one instead of deleting it.");
    if (id.type() == ObjectType::formation && scene.at(scene.ownerOf(id)).list("formations").size() == 1)
        throw Error("A swarm needs a formation; choose another kind instead of deleting the last one.");
    const Object& object = scene.at(id);
    Edit edit{scene, "Delete " + (id.type() == ObjectType::rail ? nameOfCard(scene, id) : object.name), {}, {}};
    const ObjectId owner = scene.ownerOf(id);
    removeWithOwned(edit.scene, id);
    // A version that was on makes way for the first.
    if (id.type() == ObjectType::formation && referenceOf(scene.at(owner).part("place"), "formation") == id) {
        const ObjectId first = edit.scene.at(owner).list("formations").front();
        setReference(changed(edit.scene, owner), "place", "formation", first);
    }
    return edit;
}

std::string nameOfCard(const Scene& scene, ObjectId railEntry) {
    const Object* gesture = scene.find(referenceOf(scene.at(railEntry).part("entry"), "gesture"));
    return gesture ? gesture->name : "lost gesture";
}

Edit moveInList(const Scene& scene, ObjectId id, int to) {
    const ObjectId owner = scene.ownerOf(id);
    Edit edit{scene, scene.at(owner).name + ": move " + scene.at(id).name, {}, {}};
    for (auto& list : changed(edit.scene, owner).lists) {
        const auto at = std::find(list.begin(), list.end(), id);
        if (at == list.end()) continue;
        list.erase(at);
        list.insert(list.begin() + std::clamp(to, 0, static_cast<int>(list.size())), id);
    }
    return edit;
}

}  // namespace gswarm
