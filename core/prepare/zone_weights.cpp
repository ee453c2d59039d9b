#include "core/prepare/zone_weights.h"

#include <algorithm>
#include <cstring>

#include "core/flow/weigh.h"
#include "core/prepare/instances.h"
#include "core/prepare/prepare.h"
#include "core/prepare/weave_plan.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {

ZoneWeights::ZoneWeights(const Scene& scene, const Object& zone, const WorldPose& swarm, const RailSource& source, Store& store)
    : part_(resolve(scene, zone.part("form"), source.moment.frame)),
      moment_(source.moment),
      swarm_(swarm),
      block_(std::make_unique<Block>()) {
    step_.kind = static_cast<const ZoneKind*>(part_.kind);
    step_.data = part_.data;
    step_.states.push_back(zoneStateAt(scene, zone, source.moment.frame, store));
    if (step_.kind->prepare) step_.kind->prepare(part_.data.get(), source);
    ContentHash hash;
    hash.add(step_.kind->id);
    hash.add(part_.hash);
    hash.add(source.hash->value());
    addState(hash, step_.states.front());
    if (step_.kind->moves && step_.kind->moves(part_.data.get())) hash.add(moment_.frame);
    addPose(hash, swarm);
    hash_ = hash.value();
}

void ZoneWeights::operator()(std::span<const glm::vec3> places, float* weights) {
    Block& block = *block_;
    for (std::size_t first = 0; first < places.size(); first += blockSize) {
        const std::size_t count = std::min<std::size_t>(blockSize, places.size() - first);
        block.count = static_cast<int>(count);
        for (std::size_t i = 0; i < static_cast<std::size_t>(paddedCount(block)); ++i) {
            const glm::vec3& place = places[first + std::min(i, count - 1)];
            const glm::vec3 world = swarm_.toWorld(place);
            block.home.position.x[i] = block.position.x[i] = place.x;
            block.home.position.y[i] = block.position.y[i] = place.y;
            block.home.position.z[i] = block.position.z[i] = place.z;
            block.place.x[i] = world.x;
            block.place.y[i] = world.y;
            block.place.z[i] = world.z;
        }
        weighZone(step_, moment_, {}, block, block.zone);
        std::memcpy(weights + first, block.zone, count * sizeof(float));
    }
}

}  // namespace gswarm
