#pragma once
#include "core/flow/plan.h"

namespace gswarm {

/// in → out turned into the world by the swarm's pose: position + rotation · (scale · p).
void toWorld(const WorldPose& pose, const Columns3& in, int count, Columns3& out);

/// world → out in the zone's own axes at one pose.
void toZone(const ZoneState& zone, const Columns3& world, int count, Columns3& out);

/// The same for a moving zone under a stagger: each instance sees the pose at its own time, mixed between the whole
/// frames around it (positions and numbers linearly, rotation by slerp). `numbers` receives one column per number.
void toZoneAtOwnTime(const WeaveStep& step, double frame, const float* offset, const Columns3& world, int count, int numberCount,
                     Columns3& out, Column* numbers);

/// Joins a zone's weight to what stands above it in the weave.
void weave(WeaveOperation operation, float amount, const float* zone, int count, float* weight);

/// What a card's weight column says: how many are not 0, the least and the most.
struct WeightCount {
    int touched;
    float least, most;
};
WeightCount countWeights(const float* weight, int count);

/// weight = where · strength; driven = weight · pattern for each of the components; with `full` also without where.
void driveBlock(const LaneNumber& strength, int components, bool full, Block& block);

/// driven = weight · pattern again, after the weight has changed.
void weighDriven(int components, Block& block);

/// Where the weave or the pattern is infinite or no number, both become 0, so that the card leaves the instance as it
/// was. Returns how many there are.
int dropNotFinite(int components, Block& block);

/// sRGB-encoded columns to linear light, in place.
void decodeColours(int count, float* r, float* g, float* b);

}  // namespace gswarm
