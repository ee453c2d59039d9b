#pragma once
#include <array>
#include <memory>
#include <span>

#include "core/flow/plan.h"
#include "core/provide/store.h"

namespace gswarm {

/// Weights of one zone at places of a swarm that need not be instances, as it stands at the source's frame. Throws Error as
/// preparing the zone does.
class ZoneWeights {
  public:
    ZoneWeights(const Scene& scene, const Object& zone, const WorldPose& swarm, const RailSource& source, Store& store);
    /// Whether it chooses or reads instances, so that places have no weight.
    bool onlyAtInstances() const { return step_.kind->instancesOnly && step_.kind->instancesOnly(part_.data.get()); }
    /// Of all that the weights depend on, beside the places.
    std::uint64_t hash() const { return hash_; }
    /// `places` in swarm space; one weight for each. Not for a zone that is only at instances.
    void operator()(std::span<const glm::vec3> places, float* weights);

  private:
    WeaveStep step_;
    ResolvedPart part_;
    Moment moment_;
    WorldPose swarm_;
    std::uint64_t hash_ = 0;
    std::unique_ptr<Block> block_;
};

}  // namespace gswarm
