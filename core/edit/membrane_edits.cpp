#include "core/edit/membrane_edits.h"

#include <algorithm>

#include "core/edit/edit_parts.h"
#include "core/edit/gesture_starts.h"
#include "core/formation/formation_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

using namespace edits;

namespace {

/// The shape on whose corners a swarm stands; the empty id where it stands on none.
ObjectId cornersOf(const Scene& scene, ObjectId swarm) {
    const Object& formation = scene.at(referenceOf(scene.at(swarm).part("place"), "formation"));
    const Part& part = formation.part("formation");
    const auto& corners = static_cast<const FormationKind&>(*part.kind).corners;
    return corners ? corners(resolve(scene, part, 0).data.get()) : ObjectId{};
}

bool isCarrying(const Scene& scene, ObjectId swarm) {
    const auto shapes = scene.all(ObjectType::shape);
    return std::any_of(shapes.begin(), shapes.end(), [&](ObjectId id) {
        const auto used = usedBy(scene, id);
        return std::find(used.begin(), used.end(), swarm) != used.end();
    });
}

void set(Scene& scene, ObjectId thing, const char* parameter, Value value) {
    scene = setValue(scene, addressOf(scene, thing, parameter), std::move(value)).scene;
}

/// A new swarm on the corners of a new ball.
ObjectId addCarrier(Scene& scene) {
    const Edit ball = addShape(scene, geodesicBallShape), grain = addShape(ball.scene, ballShape);
    const Edit swarm = addSwarmOf(grain.scene, grain.made);
    scene = swarm.scene;
    for (const auto& [parameter, value] : geodesicBallShape.carriedFrom) set(scene, ball.made, parameter.c_str(), value);
    set(scene, grain.made, "radius", fixedNumbers({0.02}));
    changed(scene, ball.made).name = freeName(scene, "Ground");
    changed(scene, grain.made).name = freeName(scene, "Grain");
    changed(scene, swarm.made).name = freeName(scene, "Corners");
    set(scene, swarm.made, "shown", false);
    set(scene, swarm.made, "position", fixedNumbers({0, 1.5, 0}));
    const ObjectId formation = referenceOf(scene.at(swarm.made).part("place"), "formation");
    scene = setKind(scene, formation, "formation", elementsFormation).scene;
    set(scene, formation, "element", std::string("corners"));
    setReference(changed(scene, formation), "formation", "shape", ball.made);
    return swarm.made;
}

}  // namespace

bool standOnCorners(const Scene& scene, ObjectId shape) {
    const auto swarms = scene.all(ObjectType::swarm);
    return std::any_of(swarms.begin(), swarms.end(), [&](ObjectId swarm) { return cornersOf(scene, swarm) == shape; });
}

Edit addCarriedShape(const Scene& scene, const Kind& kind) {
    Scene made = scene;
    const auto swarms = scene.all(ObjectType::swarm);
    const auto fits = [&](ObjectId swarm) { return scene.find(cornersOf(scene, swarm)) && !isCarrying(scene, swarm); };
    const auto found = std::find_if(swarms.begin(), swarms.end(), fits);
    const ObjectId swarm = found == swarms.end() ? addCarrier(made) : *found;
    Object shape = standardObject(ObjectType::shape, freeName(made, kind.label), {&kind});
    setReference(shape, "maker", "swarm", swarm);
    setText(shape, "display", "as", "shown");
    insert(made, shape);
    made.order.push_back(shape.id);
    return {made, "Add " + shape.name, {}, shape.id};
}

Edit addShapeOfSwarm(const Scene& scene, const Kind& kind) {
    Scene made = scene;
    const auto swarms = scene.all(ObjectType::swarm);
    // One that is seen, so that what is made of it is seen in its place.
    const auto fits = [&](ObjectId swarm) {
        return switchAt(scene, scene.at(swarm).part("place"), "shown", 0) && !isCarrying(scene, swarm);
    };
    const auto found = std::find_if(swarms.begin(), swarms.end(), fits);
    ObjectId swarm = found == swarms.end() ? ObjectId{} : *found;
    if (!swarm) {
        const Edit ball = addShape(made, geodesicBallShape), of = addSwarmOf(ball.scene, ball.made);
        made = of.scene;
        swarm = of.made;
    }
    Object shape = standardObject(ObjectType::shape, freeName(made, kind.label), {&kind});
    setReference(shape, "maker", "swarm", swarm);
    setText(shape, "display", "as", "shown");
    insert(made, shape);
    made.order.push_back(shape.id);
    set(made, swarm, "shown", false);
    const std::string& name = made.at(swarm).name;
    return {made, "Add " + shape.name, {}, shape.id, "“" + name + "” is seen as " + shape.name + "; its own switch is off."};
}

ObjectId addBeads(Scene& scene, ObjectId swarm) {
    const Part& stands = scene.at(referenceOf(scene.at(swarm).part("place"), "formation")).part("formation");
    ObjectId surface;
    for (const Parameter& p : stands.kind->parameters)
        if (p.type == ParameterType::reference && (p.needs == Needs::surface || p.needs == Needs::faces) && applies(p, stands))
            surface = referenceOf(stands, p.id);
    if (!scene.find(surface)) return {};
    const Part place = scene.at(swarm).part("place");
    const Edit ball = addShape(scene, ballShape), beads = addSwarmOf(ball.scene, ball.made);
    scene = beads.scene;
    changed(scene, ball.made).name = freeName(scene, "Bead");
    changed(scene, beads.made).name = freeName(scene, "Beads");
    set(scene, ball.made, "radius", fixedNumbers({0.3}));
    set(scene, scene.at(beads.made).list("stock").front(), "foot", std::string("centre"));
    for (const char* parameter : {"position", "rotation", "scale"}) set(scene, beads.made, parameter, place[parameter]);
    set(scene, beads.made, "shown", false);
    const ObjectId formation = referenceOf(scene.at(beads.made).part("place"), "formation");
    scene = setKind(scene, formation, "formation", randomOnMeshFormation).scene;
    set(scene, formation, "shape", surface);
    set(scene, formation, "count", fixedNumbers({24}));
    for (const GestureStart& start : gestureStarts())
        if (start.id == "randomSize") scene = addGesture(scene, beads.made, start.make()).scene;
    return beads.made;
}

}  // namespace gswarm
