#include "core/edit/membrane_edits.h"

#include <algorithm>

#include "core/edit/edit_parts.h"
#include "core/formation/formation_kind.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

using namespace edits;

namespace {

bool standsOnCorners(const Scene& scene, ObjectId swarm) {
    const Object& formation = scene.at(referenceOf(scene.at(swarm).part("place"), "formation"));
    const Part& part = formation.part("formation");
    const auto& corners = static_cast<const FormationKind&>(*part.kind).corners;
    return corners && scene.find(corners(resolve(scene, part, 0).data.get()));
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

/// A new swarm on the corners of a new ball of two thousand.
ObjectId addCarrier(Scene& scene) {
    const Edit ball = addShape(scene, geodesicBallShape), grain = addShape(ball.scene, ballShape);
    const Edit swarm = addSwarmOf(grain.scene, grain.made);
    scene = swarm.scene;
    set(scene, ball.made, "radius", fixedNumbers({1.5}));
    set(scene, ball.made, "frequency", fixedNumbers({24}));
    set(scene, ball.made, "smooth", true);
    set(scene, grain.made, "radius", fixedNumbers({0.02}));
    changed(scene, ball.made).name = freeName(scene, "Ground");
    changed(scene, grain.made).name = freeName(scene, "Grain");
    changed(scene, swarm.made).name = freeName(scene, "Corners");
    set(scene, swarm.made, "shown", false);
    const ObjectId formation = referenceOf(scene.at(swarm.made).part("place"), "formation");
    scene = setKind(scene, formation, "formation", elementsFormation).scene;
    set(scene, formation, "element", std::string("corners"));
    setReference(changed(scene, formation), "formation", "shape", ball.made);
    return swarm.made;
}

}  // namespace

Edit addCarriedShape(const Scene& scene, const Kind& kind) {
    Scene made = scene;
    const auto swarms = scene.all(ObjectType::swarm);
    const auto fits = [&](ObjectId swarm) { return standsOnCorners(scene, swarm) && !isCarrying(scene, swarm); };
    const auto found = std::find_if(swarms.begin(), swarms.end(), fits);
    const ObjectId swarm = found == swarms.end() ? addCarrier(made) : *found;
    Object shape = standardObject(ObjectType::shape, freeName(made, kind.label), {&kind});
    setReference(shape, "maker", "swarm", swarm);
    setText(shape, "display", "as", "shown");
    insert(made, shape);
    made.order.push_back(shape.id);
    return {made, "Add " + shape.name, {}, shape.id};
}

}  // namespace gswarm
