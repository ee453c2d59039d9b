// Draws things to a point, a curve or a surface, or pushes them off.
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/force/force_kind.h"
#include "core/shape/nearest.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

enum class DrawsTo { place, curve, surface };
enum class Falls { even, fading, square };

struct Attraction : ForceBasics {
    float pull;
    DrawsTo to;
    ObjectId curve, surface;
    Falls falls;
    float reach;

    // Prepared.
    std::shared_ptr<const NearestTree> tree{};
};

void prepare(Attraction& force, const RailSource& source) {
    if (force.to == DrawsTo::place) return;
    const bool curve = force.to == DrawsTo::curve;
    const auto shape = source.shape(curve ? force.curve : force.surface);
    if (curve && shape->curves.empty()) throw Error("What it draws to has no curve; choose another shape.");
    if (!curve && shape->mesh().triangles.empty()) throw Error("What it draws to has no surface; choose another shape.");
    ContentHash key;
    key.add(curve ? "curve tree" : "mesh tree");
    key.add(shape->hash);
    force.tree = source.keptAs<NearestTree>(
        key.value(), [&] { return curve ? NearestTree::ofCurves(shape->curves) : NearestTree::ofMesh(shape->mesh()); });
}

void act(const ForceInput& in, ForceColumns& out) {
    const auto& force = in.as<Attraction>();
    const float reach = std::max(force.reach, 1e-4f), gentle = reach / 20;
    const bool ends = force.falls == Falls::fading;
    for (int i = 0; i < in.count; ++i) {
        const glm::vec3 place(in.local.x[i], in.local.y[i], in.local.z[i]);
        const glm::vec3 way = (force.tree ? force.tree->nearest(place, ends ? reach : 1e30f).place : glm::vec3(0)) - place;
        const float away = std::sqrt(way.x * way.x + way.y * way.y + way.z * way.z);
        float strength = force.pull;
        if (ends) strength *= std::max(0.0f, 1 - away / reach);
        if (force.falls == Falls::square) strength *= std::min(100.0f, reach * reach / std::max(away * away, 1e-12f));
        // Close to where it draws to it gets weak, so that nothing trembles there.
        const float each = strength / std::max(away, gentle);
        out.push.x[i] = each * way.x, out.push.y[i] = each * way.y, out.push.z[i] = each * way.z;
        out.grip[i] = 0;
    }
}

ForceKind attractionKind() {
    DescribeForce<Attraction> d("attraction", "Attraction", "Draws things to its place, a curve or a surface, or pushes them off");
    d.found("attract attractor repel repulsion gravity magnet point pull push");
    d.number("pull", &Attraction::pull, 5, {-20, 20}, "How strongly it draws; below 0 it pushes off").unit("m/s²").hard(-1e4, 1e4);
    d.choice("to", &Attraction::to, {{"place", "Its place"}, {"curve", "A curve"}, {"surface", "A surface"}},
             "To where it draws: the nearest place of what lies at the force's own place")
        .label("Draws to");
    d.reference("curve", &Attraction::curve, {ObjectType::shape}, "The curve").needs(Needs::curve).only("to", {"curve"});
    d.reference("surface", &Attraction::surface, {ObjectType::shape}, "The surface").needs(Needs::surface).only("to", {"surface"});
    d.choice("falls", &Attraction::falls,
             {{"even", "Everywhere the same"}, {"fades", "Less and less, to its reach"}, {"square", "With the square of the distance"}},
             "How it gets weaker with the distance")
        .label("Farther away");
    d.length("reach", &Attraction::reach, 5, {0.2, 30}, "Where it ends, or, with the square, has the strength that is given")
        .hard(1e-3, 1e6)
        .only("falls", {"fades", "square"});
    return preparing(makes(d, act), prepare);
}

}  // namespace

const ForceKind attractionForce = attractionKind();

}  // namespace gswarm
