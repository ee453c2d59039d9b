#include "core/gesture/against.h"

#include "core/base/error.h"
#include "core/shape/shape_kind.h"

namespace gswarm {

StandingShapes standingAgainst(ObjectId against, const RailSource& source, std::uint64_t& hash) {
    if (against.type() == ObjectType::swarm) {
        const ShownShapes shown = source.shown(against);
        hash = shown.hash;
        return *shown.shapes;
    }
    const auto shape = source.shape(against);
    if (shape->mesh().triangles.empty()) throw Error("The shape it goes against has no surface; choose another one.");
    ContentHash key;
    key.add(shape->hash);
    const WorldPose& p = source.swarm;
    for (const float v : {p.position.x, p.position.y, p.position.z, p.rotation.x, p.rotation.y, p.rotation.z, p.rotation.w, p.scale})
        key.add(double(v));
    hash = key.value();
    return {{shape, matrixOf(p)}};
}

}  // namespace gswarm
