// Edits of a swarm's formations and of broken shapes.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/edit/edit_parts.h"
#include "core/formation/formation_kind.h"
#include "core/kinds/registry.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

using namespace edits;

namespace {

/// One number for three or three for one: counts keep their product, everything else its size.
Value reshaped(const Parameter& to, const Numbers& from) {
    Numbers out = std::get<Numbers>(to.standard);
    const bool count = to.type == ParameterType::whole;
    const auto value = [&](std::size_t c) { return from[c].value; };
    if (out.size() == 1 && from.size() == 3) out[0].value = count ? value(0) * value(1) * value(2) : value(0);
    if (out.size() == 3 && from.size() == 1) {
        const double side = std::max(1.0, std::round(std::sqrt(value(0))));
        for (std::size_t c = 0; c < 3; ++c) out[c].value = !count ? value(0) : c == 1 ? 1 : side;
    }
    for (Track& track : out) track.value = std::clamp(track.value, to.hard.low, to.hard.high);
    return out;
}

void keepShared(const Part& before, Part& after) {
    for (const char* name : {"count", "spacing"}) {
        const int from = before.kind->indexOf(name), to = after.kind->indexOf(name);
        if (from < 0 || to < 0) continue;
        const auto& numbers = std::get<Numbers>(before.values[static_cast<std::size_t>(from)]);
        const Parameter& p = after.kind->parameters[static_cast<std::size_t>(to)];
        if (static_cast<int>(numbers.size()) != p.components) after.values[static_cast<std::size_t>(to)] = reshaped(p, numbers);
    }
}

/// A shape for a formation that has none: a path for curves, faces to be told apart where those count, a ball for the rest.
/// Seen dimmed, so that it isn't lost.
ObjectId addGround(Scene& scene, Needs needs) {
    const bool curve = needs == Needs::curve;
    const Kind& kind = curve ? static_cast<const Kind&>(pathShape) : needs == Needs::faces ? geodesicBallShape : ballShape;
    Object shape = standardObject(ObjectType::shape, freeName(scene, curve ? "Path" : "Ground"), {&kind});
    if (!curve) shape.part("maker").values[static_cast<std::size_t>(kind.indexOf("radius"))] = fixedNumbers({2});
    setText(shape, "display", "as", "dimmed");
    insert(scene, shape);
    scene.order.push_back(shape.id);
    return shape.id;
}

bool suits(const Scene& scene, ObjectId shape, Needs needs) {
    return scene.find(shape) && gives(static_cast<const ShapeKind&>(*scene.at(shape).part("maker").kind), needs);
}

/// The shape that was added last of those that suit and that nothing uses yet: an imported mesh waits for just that.
ObjectId loose(const Scene& scene, Needs needs) {
    ObjectId found;
    for (const ObjectId shape : scene.all(ObjectType::shape))
        if (suits(scene, shape, needs) && scene.referringTo(shape).empty()) found = shape;
    return found;
}

}  // namespace

Edit setFormation(const Scene& scene, ObjectId formation, const Kind& kind) {
    const Part before = scene.at(formation).part("formation");
    Edit edit = setKind(scene, formation, "formation", kind);
    keepShared(before, changed(edit.scene, formation).part("formation"));
    const ObjectId swarm = scene.ownerOf(formation);
    for (const Parameter& p : kind.parameters) {
        if (p.type != ParameterType::reference || p.optional) continue;
        const ObjectId kept = referenceOf(edit.scene.at(formation).part("formation"), p.id);
        if (kept && (kept.type() != ObjectType::shape || suits(edit.scene, kept, p.needs))) continue;
        ObjectId wanted;
        if (p.references.front() == ObjectType::swarm) {
            for (const ObjectId other : scene.all(ObjectType::swarm))
                if (other != swarm) wanted = other;
        } else {
            for (const Value& value : before.values)
                if (const auto* id = std::get_if<ObjectId>(&value); id && id->type() == ObjectType::shape && suits(scene, *id, p.needs))
                    wanted = *id;
            if (!wanted) wanted = loose(scene, p.needs);
            if (!wanted) wanted = addGround(edit.scene, p.needs);
        }
        if (wanted) setReference(changed(edit.scene, formation), "formation", p.id, wanted);
    }
    refuseCircle(edit.scene, formation);
    edit.label = scene.at(swarm).name + ": " + kind.label;
    if (static_cast<const FormationKind&>(kind).fitsStock && !switchOf(scene.at(swarm).part("stockRule"), "fit")) {
        Part& stockRule = changed(edit.scene, swarm).part("stockRule");
        stockRule.values[static_cast<std::size_t>(stockRule.kind->indexOf("fit"))] = true;
        edit.label += ", stock fitted";
    }
    return edit;
}

Edit addFormationVersion(const Scene& scene, ObjectId swarm) {
    const ObjectId on = referenceOf(scene.at(swarm).part("place"), "formation");
    Edit edit{scene, scene.at(swarm).name + ": another version of its formation", {}, {}};
    edit.made = copyWithOwned(edit.scene, on);
    changed(edit.scene, edit.made).name = freeName(scene, scene.at(on).name);
    Object& changedSwarm = changed(edit.scene, swarm);
    changedSwarm.list("formations").push_back(edit.made);
    setReference(changedSwarm, "place", "formation", edit.made);
    return edit;
}

Edit breakUp(const Scene& scene, ObjectId shape) {
    Edit edit{scene, "Break up " + scene.at(shape).name, {}, {}};
    Object swarm = standardObject(ObjectType::swarm, freeName(scene, scene.at(shape).name + " in pieces"));
    Object formation = standardObject(ObjectType::formation, "Formation", {&piecesFormation});
    setReference(formation, "formation", "shape", shape);
    setText(formation, "formation", "into", "faces");
    insert(edit.scene, formation);
    swarm.list("formations").push_back(formation.id);
    setReference(swarm, "place", "formation", formation.id);
    insert(edit.scene, swarm);
    const ObjectId entry = appendStock(edit.scene, swarm.id, shape);
    setText(changed(edit.scene, entry), "entry", "pieces", "faces");
    setText(changed(edit.scene, shape), "display", "as", "hidden");
    edit.scene.order.push_back(swarm.id);
    edit.made = swarm.id;
    return edit;
}

}  // namespace gswarm
