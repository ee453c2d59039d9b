// The dual of another shape: a face for every corner.
#include "core/base/error.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

struct Dual {
    ObjectId of;
};

ShapeForm make(const Dual& dual, const ShapeSource& source) {
    if (!dual.of) throw Error("Choose the shape whose dual this is.");
    Mesh mesh = dualOf(source.shape(dual.of)->mesh());
    if (mesh.triangles.empty()) throw Error("The shape has no corner with faces all around, so it has no dual.");
    return {std::move(mesh), {}, {}};
}

}  // namespace

const ShapeKind dualShape = makes(DescribeShape<Dual>("dual", "Dual", "A face for every corner of another shape")
                                      .found("polyhedron faceted cells honeycomb")
                                      .reference("of", &Dual::of, {ObjectType::shape}, "The shape whose dual this is")
                                      .label("Shape"),
                                  make);

}  // namespace gswarm
