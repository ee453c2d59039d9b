// The edges of another shape as rods.
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/shape/icosahedron.h"
#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

struct WireFrame {
    ObjectId of;
    float thickness;
    int sides;
    bool joints;
    float jointSize;  ///< percent
};

ShapeForm make(const WireFrame& frame, const ShapeSource& source) {
    if (!frame.of) throw Error("Choose the shape whose edges are shown.");
    const auto from = source.shape(frame.of);
    const Topology topology = topologyOf(from->mesh());
    if (topology.edges.empty()) throw Error("The shape has no edges: it is a curve, or empty.");
    constexpr double most = 20e6;
    constexpr int jointFrequency = 2;
    const double rods = static_cast<double>(topology.edges.size()) * 4 * frame.sides;
    const double balls = frame.joints ? static_cast<double>(topology.places.size()) * 20 * jointFrequency * jointFrequency : 0;
    if (rods + balls > most)
        throw Error("It would have more triangles than the limit of 20 million; take fewer sides, or a coarser shape.");
    Mesh mesh;
    std::vector<bool> ends(topology.places.size());
    for (const Edge& edge : topology.edges) {
        if (source.progress) source.progress->check();
        append(mesh, rodAlong({{topology.places[edge.from], topology.places[edge.to]}, false}, frame.thickness, frame.sides));
        ends[edge.from] = ends[edge.to] = true;
    }
    if (!frame.joints) return {std::move(mesh), {}, {}};
    const Mesh ball = ballFromUnit(geodesicSphere(jointFrequency), frame.thickness * frame.jointSize / 200);
    for (std::size_t c = 0; c < ends.size(); ++c) {
        if (!ends[c]) continue;
        Mesh joint = ball;
        for (glm::vec3& p : joint.positions) p += topology.places[c];
        append(mesh, joint);
    }
    return {std::move(mesh), {}, {}};
}

}  // namespace

const ShapeKind wireFrameShape =
    makes(DescribeShape<WireFrame>("wireFrame", "Wire frame", "The edges of another shape as rods, with balls where they meet")
              .found("wireframe lattice struts cage edges skeleton tubes")
              .reference("of", &WireFrame::of, {ObjectType::shape}, "The shape whose edges are shown; what lies within a face is none")
              .label("Shape")
              .needs(Needs::surface)
              .length("thickness", &WireFrame::thickness, 0.04, {0.005, 0.5}, "Across each rod")
              .hard(1e-6, 1e4)
              .whole("sides", &WireFrame::sides, 8, {3, 24}, "Faces around each rod")
              .hard(3, 64)
              .toggle("joints", &WireFrame::joints, true, "A ball where edges meet; else rods end flat")
              .number("jointSize", &WireFrame::jointSize, 100, {100, 400}, "Across a ball beside a rod")
              .label("Size of joints")
              .unit("%")
              .hard(0, 1e4)
              .only("joints", {"on"}),
          make);

}  // namespace gswarm
