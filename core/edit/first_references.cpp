#include "core/edit/first_references.h"

#include <algorithm>

#include "core/edit/edit_parts.h"
#include "core/edit/membrane_edits.h"
#include "core/formation/formation_kind.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/media/media_kind.h"
#include "core/pattern/pattern_kind.h"
#include "core/resolve/references.h"
#include "core/scene/object_kinds.h"
#include "core/shape/shape_kind.h"
#include "core/sound/sound_kind.h"
#include "core/zone/zone_kind.h"

namespace gswarm::edits {
namespace {

/// What a reference has to have: its table says it, or the pattern by its settings.
Needs needsOf(const Part& part, const Parameter& parameter) {
    if (part.kind->family == Family::pattern)
        if (const auto& needs = static_cast<const PatternKind&>(*part.kind).needs) return needs(part);
    return parameter.needs;
}

/// Whether what is looked for is the thing itself, or something that it is made of.
bool isBehind(const Scene& scene, ObjectId wanted, ObjectId thing) {
    if (wanted == thing) return true;
    const auto behind = everythingBehind(scene, {thing});
    return std::find(behind.begin(), behind.end(), wanted) != behind.end();
}

/// A shape that the swarm does not repeat, that is not made of the user and that has what is needed; a new dimmed one if there is none.
ObjectId shapeFor(Scene& scene, Needs needs, ObjectId swarm, ObjectId user) {
    if (needs == Needs::anything) needs = Needs::surface;
    std::vector<ObjectId> repeated;
    for (const ObjectId entry : scene.at(swarm).list("stock")) repeated.push_back(referenceOf(scene.at(entry).part("entry"), "shape"));
    for (const ObjectId id : scene.all(ObjectType::shape))
        if (gives(static_cast<const ShapeKind&>(*scene.at(id).part("maker").kind), needs) &&
            std::find(repeated.begin(), repeated.end(), id) == repeated.end() && !isBehind(scene, user, id))
            return id;
    const bool curve = needs == Needs::curve;
    Object shape = standardObject(ObjectType::shape, freeName(scene, curve ? "Path" : "Ground"), {curve ? &pathShape : &ballShape});
    setText(shape, "display", "as", "dimmed");
    insert(scene, shape);
    scene.order.push_back(shape.id);
    return shape.id;
}

/// Another version of the swarm's formation, or that of another swarm; else a new version, a dome over the first.
ObjectId formationFor(Scene& scene, ObjectId swarm) {
    const ObjectId on = referenceOf(scene.at(swarm).part("place"), "formation");
    for (const ObjectId id : scene.at(swarm).list("formations"))
        if (id != on) return id;
    for (const ObjectId other : scene.all(ObjectType::swarm))
        if (other != swarm) return referenceOf(scene.at(other).part("place"), "formation");
    const Object version = standardObject(ObjectType::formation, freeName(scene, "Formation"), {&goldenSpiralFormation});
    insert(scene, version);
    changed(scene, swarm).list("formations").push_back(version.id);
    return version.id;
}

/// The first of its type that there is; where there is none one is made, simulated, so that something is seen or heard.
ObjectId simulatedFor(Scene& scene, ObjectType type, const Kind& simulated) {
    if (const auto there = scene.all(type); !there.empty()) return there.front();
    const Object made = standardObject(type, freeName(scene, simulated.label), {&simulated});
    insert(scene, made);
    scene.order.push_back(made.id);
    return made.id;
}

/// The swarm's named value of that name; a new one while there is room.
ObjectId namedFor(Scene& scene, const std::string& name, ObjectId swarm) {
    const auto& numbers = scene.at(swarm).list("namedValues");
    for (const ObjectId id : numbers)
        if (scene.at(id).name == name) return id;
    if (numbers.size() >= mostNamedValues) return {};
    const Object number = standardObject(ObjectType::namedValue, name);
    insert(scene, number);
    changed(scene, swarm).list("namedValues").push_back(number.id);
    return number.id;
}

ObjectId referenceFor(Scene& scene, const Part& part, const Parameter& parameter, ObjectId swarm, ObjectId user) {
    if (parameter.optional) return {};
    if (!parameter.begins.empty()) return namedFor(scene, parameter.begins, swarm);
    const auto allows = [&](ObjectType type) {
        return std::find(parameter.references.begin(), parameter.references.end(), type) != parameter.references.end();
    };
    if (allows(ObjectType::swarm) && needsOf(part, parameter) != Needs::curve)
        for (const ObjectId other : scene.all(ObjectType::swarm)) {
            const auto behind = everythingBehind(scene, {other});
            if (std::find(behind.begin(), behind.end(), swarm) == behind.end()) return other;
        }
    if (allows(ObjectType::swarm) && allows(ObjectType::shape) && needsOf(part, parameter) != Needs::curve)
        if (const ObjectId beads = addBeads(scene, swarm)) return beads;
    if (allows(ObjectType::media)) return simulatedFor(scene, ObjectType::media, simulatedCameraMedia);
    if (allows(ObjectType::sound)) return simulatedFor(scene, ObjectType::sound, simulatedMicrophoneSound);
    if (allows(ObjectType::shape)) return shapeFor(scene, needsOf(part, parameter), swarm, user);
    if (allows(ObjectType::formation)) return formationFor(scene, swarm);
    if (allows(ObjectType::camera) && !scene.all(ObjectType::camera).empty()) return scene.all(ObjectType::camera).front();
    if (allows(ObjectType::namedValue) && !scene.at(swarm).list("namedValues").empty()) return scene.at(swarm).list("namedValues").front();
    return {};
}

}  // namespace

void giveReferences(Scene& scene, ObjectId object, std::string_view slot, ObjectId swarm) {
    if (!scene.find(swarm)) return;
    const Part part = scene.at(object).part(slot);
    for (const Parameter& parameter : part.kind->parameters) {
        if (parameter.type != ParameterType::reference || !applies(parameter, part) || referenceOf(part, parameter.id)) continue;
        if (const ObjectId wanted = referenceFor(scene, part, parameter, swarm, object))
            setReference(changed(scene, object), slot, parameter.id, wanted);
    }
}

}  // namespace gswarm::edits
