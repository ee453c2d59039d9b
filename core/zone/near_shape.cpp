// Zones that follow a shape, which lies in the zone's own axes: near a curve, near a mesh, inside a closed mesh.
#include <memory>

#include "core/base/error.h"
#include "core/shape/inside.h"
#include "core/shape/nearest.h"
#include "core/shape/shape_kind.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct NearShape {
    ObjectId shape;
    float reach, softEdge;
    std::shared_ptr<const NearestTree> tree;
};

template <class Make>
std::shared_ptr<const NearestTree> treeOf(const char* what, const ShapeMeshes& shape, const RailSource& source, Make make) {
    ContentHash key;
    key.add(what);
    key.add(shape.hash);
    return source.keptAs<NearestTree>(key.value(), shape.mesh().triangleCount() * 100, make);
}

void prepareCurve(NearShape& zone, const RailSource& source) {
    const auto shape = source.shape(zone.shape);
    if (shape->curves.empty()) throw Error("The shape of its zone has no curve; choose another one, or a zone near a mesh.");
    zone.tree = treeOf("curve tree", *shape, source, [&] { return NearestTree::ofCurves(shape->curves); });
}

void prepareMesh(NearShape& zone, const RailSource& source) {
    const auto shape = source.shape(zone.shape);
    if (shape->mesh().triangles.empty()) throw Error("The shape of its zone has no surface; choose another one.");
    zone.tree = treeOf("mesh tree", *shape, source, [&] { return NearestTree::ofMesh(shape->mesh()); });
}

/// Depth below the reach, place by place.
void weighNear(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<NearShape>();
    for (int i = 0; i < in.count; ++i) {
        const float reach = in.numbers[0].column ? in.numbers[0].column[i] : in.numbers[0].value;
        weight[i] = reach - zone.tree->nearest({in.local.x[i], in.local.y[i], in.local.z[i]}, reach).distance;
    }
    weighDepth(weight, in.numbers[1], in.count, weight);
}

/// A mesh with what tells inside from outside; kept together.
struct Solid {
    std::shared_ptr<const ShapeMeshes> shape;
    InsideTest inside;
};

struct InsideMesh {
    ObjectId shape;
    float softEdge;
    std::shared_ptr<const NearestTree> tree;
    std::shared_ptr<const Solid> solid;
};

void prepareInside(InsideMesh& zone, const RailSource& source) {
    const auto shape = source.shape(zone.shape);
    if (shape->mesh().triangles.empty()) throw Error("The shape of its zone has no surface; choose another one.");
    zone.tree = treeOf("mesh tree", *shape, source, [&] { return NearestTree::ofMesh(shape->mesh()); });
    ContentHash key;
    key.add("inside test");
    key.add(shape->hash);
    zone.solid = source.keptAs<Solid>(key.value(), shape->mesh().triangleCount() * 24, [&] {
        return Solid{shape, InsideTest(shape->mesh())};
    });
}

void weighInside(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<InsideMesh>();
    for (int i = 0; i < in.count; ++i) {
        const glm::vec3 place(in.local.x[i], in.local.y[i], in.local.z[i]);
        const float edge = in.numbers[0].column ? in.numbers[0].column[i] : in.numbers[0].value;
        // Beyond the soft edge depth makes no difference.
        weight[i] = !zone.solid->inside(place) ? -1.0f : edge > 0 ? zone.tree->nearest(place, edge).distance : 1.0f;
    }
    weighDepth(weight, in.numbers[0], in.count, weight);
}

}  // namespace

const ZoneKind nearCurveZone =
    preparing(makes(DescribeZone<NearShape>("nearCurve", "Near curve", "Acts along a curve, which lies at the zone's place")
                        .found("path spline falloff distance")
                        .reference("shape", &NearShape::shape, {ObjectType::shape}, "The curve")
                        .needs(Needs::curve)
                        .length("reach", &NearShape::reach, 1, {0.05, 10}, "How far from the curve it ends")
                        .hard(0, 1e6)
                        .length("softEdge", &NearShape::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                        .hard(0, 1e6)
                        .kind(),
                    weighNear),
              prepareCurve);

const ZoneKind nearMeshZone =
    preparing(makes(DescribeZone<NearShape>("nearMesh", "Near mesh", "Acts near a surface, on both sides; it lies at the zone's place")
                        .found("surface distance falloff proximity")
                        .reference("shape", &NearShape::shape, {ObjectType::shape}, "The mesh")
                        .needs(Needs::surface)
                        .length("reach", &NearShape::reach, 1, {0.05, 10}, "How far from the surface it ends")
                        .hard(0, 1e6)
                        .length("softEdge", &NearShape::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                        .hard(0, 1e6)
                        .kind(),
                    weighNear),
              prepareMesh);

const ZoneKind insideMeshZone =
    preparing(makes(DescribeZone<InsideMesh>("insideMesh", "Inside mesh", "Acts inside a closed mesh, which lies at the zone's place")
                        .found("volume mask selection")
                        .reference("shape", &InsideMesh::shape, {ObjectType::shape}, "The closed mesh")
                        .needs(Needs::closedMesh)
                        .length("softEdge", &InsideMesh::softEdge, 0.3, {0, 10}, "Over this width it fades, measured inward")
                        .hard(0, 1e6)
                        .kind(),
                    weighInside),
              prepareInside);

}  // namespace gswarm
