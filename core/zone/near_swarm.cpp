// Zone around the instances of another swarm.
#include <memory>

#include "core/shape/homes.h"
#include "core/shape/nearest.h"
#include "core/shape/shape_kind.h"
#include "core/zone/zone_kind.h"

namespace gswarm {
namespace {

struct NearSwarm {
    ObjectId swarm;
    float reach, softEdge;
    std::shared_ptr<const NearestTree> tree;  ///< world
};

void prepare(NearSwarm& zone, const RailSource& source) {
    zone.tree = std::make_shared<const NearestTree>(NearestTree::ofPoints(placesOf(*source.instances(zone.swarm))));
}

void weigh(const ZoneInput& in, float* weight) {
    const auto& zone = in.as<NearSwarm>();
    for (int i = 0; i < in.count; ++i) {
        const float reach = in.numbers[0].column ? in.numbers[0].column[i] : in.numbers[0].value;
        weight[i] = reach - zone.tree->nearest({in.world.x[i], in.world.y[i], in.world.z[i]}, reach).distance;
    }
    weighDepth(weight, in.numbers[1], in.count, weight);
}

}  // namespace

const ZoneKind nearSwarmZone =
    preparing(makes(DescribeZone<NearSwarm>("nearSwarm", "Near swarm", "Acts around the instances of another swarm")
                        .found("proximity neighbours falloff")
                        .reference("swarm", &NearSwarm::swarm, {ObjectType::swarm}, "The other swarm")
                        .length("reach", &NearSwarm::reach, 1.5, {0.05, 10}, "How far from an instance it ends")
                        .hard(0, 1e6)
                        .length("softEdge", &NearSwarm::softEdge, 1, {0, 10}, "Over this width it fades, measured inward")
                        .hard(0, 1e6)
                        .kind(),
                    weigh),
              prepare);

}  // namespace gswarm
