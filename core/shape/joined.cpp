// All that a swarm shows as one mesh.
#include "core/base/error.h"
#include "core/shape/joined_mesh.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

struct Joined {
    ObjectId swarm;
};

ShapeKind joinedKind() {
    DescribeShape<Joined> d("joined", "Joined", "All that a swarm shows as one mesh, each part in its instance's colour");
    d.found("merge combine attach collapse one mesh bake instances")
        .reference("swarm", &Joined::swarm, {ObjectType::swarm},
                   "All its instances as they lie at the frame, with their copies by symmetry, become one mesh in the swarm's own space")
        .label("Made of");
    ShapeKind kind = d.kind();
    kind.swarm = [](const void* data) { return static_cast<const Joined*>(data)->swarm; };
    kind.make = [](const void* data, int detail, const ShapeSource& source) {
        const auto& joined = *static_cast<const Joined*>(data);
        if (!joined.swarm) throw Error("Choose the swarm that it is made of.");
        return ShapeForm{joinedMesh(*source.shown(joined.swarm), detail, source.progress), {}, {}};
    };
    return kind;
}

}  // namespace

const ShapeKind joinedShape = joinedKind();

}  // namespace gswarm
