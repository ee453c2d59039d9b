#include "core/prepare/zone_weights.h"

#include <algorithm>
#include <cstring>

#include "core/prepare/rail_plan.h"
#include "core/flow/zone_lanes.h"
#include "core/resolve/resolve.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"

namespace gswarm {

/// A few places at a time, in the zone's own lanes.
struct ZoneWeights::Space {
    Columns3 world, local;
    alignas(64) Column weight;
    std::unique_ptr<Block> block;  ///< for zones that read one
};

ZoneWeights::ZoneWeights(const Scene& scene, const Object& zone, const WorldPose& swarm, const RailSource& source, Store& store)
    : kind_(static_cast<const ZoneKind*>(zone.part("form").kind)),
      part_(resolve(scene, zone.part("form"), source.moment.frame)),
      state_(zoneStateAt(scene, zone, source.moment.frame, store)),
      moment_(source.moment),
      swarm_(swarm),
      space_(std::make_unique<Space>()) {
    if (kind_->prepare) kind_->prepare(part_.data.get(), source);
    if (kind_->instancesOnly) space_->block = std::make_unique<Block>();
    for (std::size_t n = 0; n < numbers_.size(); ++n) numbers_[n].value = state_.numbers[n];
    ContentHash hash;
    hash.add(kind_->id);
    hash.add(part_.hash);
    hash.add(source.hash->value());
    addState(hash, state_);
    if (kind_->moves && kind_->moves(part_.data.get())) hash.add(moment_.frame);
    for (const float v : {swarm.position.x, swarm.position.y, swarm.position.z, swarm.rotation.x, swarm.rotation.y, swarm.rotation.z,
                          swarm.rotation.w, swarm.scale})
        hash.add(double(v));
    hash_ = hash.value();
}
ZoneWeights::~ZoneWeights() = default;

void ZoneWeights::operator()(std::span<const glm::vec3> places, float* weights) {
    for (std::size_t first = 0; first < places.size(); first += blockSize) {
        const std::size_t count = std::min<std::size_t>(blockSize, places.size() - first);
        const auto padded = static_cast<int>((count + 15) & ~std::size_t{15});
        Block* const block = space_->block.get();
        if (block) block->count = block->total = padded;
        for (std::size_t i = 0; i < static_cast<std::size_t>(padded); ++i) {
            const glm::vec3& place = places[first + std::min(i, count - 1)];
            const glm::vec3 p = swarm_.toWorld(place);
            if (block) {
                block->home.position.x[i] = block->position.x[i] = place.x;
                block->home.position.y[i] = block->position.y[i] = place.y;
                block->home.position.z[i] = block->position.z[i] = place.z;
            }
            space_->world.x[i] = p.x;
            space_->world.y[i] = p.y;
            space_->world.z[i] = p.z;
        }
        toZone(state_, space_->world, padded, space_->local);
        kind_->weigh({part_.data.get(), numbers_.data(), space_->local, space_->world, padded, block, moment_, {}}, space_->weight);
        std::memcpy(weights + first, space_->weight, count * sizeof(float));
    }
}

}  // namespace gswarm
