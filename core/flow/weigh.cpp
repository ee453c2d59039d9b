#include "core/flow/weigh.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/gtc/quaternion.hpp>

#include "core/flow/block_lanes.h"
#include "core/flow/zone_lanes.h"

namespace gswarm {

void weighZone(const WeaveStep& step, const Moment& moment, const LaneNumber& offset, Block& b, float* weight) {
    const int padded = paddedCount(b);
    if (step.off) return fillColumn(0, padded, weight);
    Columns3& local = b.weighed;  // free until a gesture is driven
    std::array<LaneNumber, mostZoneNumbers> numbers{};
    for (std::size_t n = 0; n < numbers.size(); ++n) numbers[n].value = step.states[0].numbers[n];
    if (step.states.size() == 1) {
        toZone(step.states[0], b.place, padded, local);
    } else {
        const int count = step.kind->numberCount();
        toZoneAtOwnTime(step, moment.frame, b.offset, b.place, padded, count, local, b.scratch);
        for (std::size_t n = 0; n < static_cast<std::size_t>(count); ++n) numbers[n].column = b.scratch[n];
    }
    step.kind->weigh({step.data.get(), numbers.data(), local, b.place, padded, &b, moment, offset}, weight);
}

namespace {

/// What stays the same for all groups of one weave; `next` counts the entries.
struct Weaving {
    const Moment& moment;
    const LaneNumber& offset;
    Block& block;
    const AfterEntry* afterEntry;
    std::size_t next = 0;

    void into(const std::vector<WeaveStep>& steps, int depth, float* out) {
        const int padded = paddedCount(block);
        bool first = true;
        for (const WeaveStep& step : steps) {
            const std::size_t mine = next++;
            float* weight = block.zone;
            if (step.kind)
                weighZone(step, moment, offset, block, weight);
            else
                into(step.group, depth + 1, weight = block.group[std::min(depth, deepestWeave - 1)]);
            if (first)
                for (int i = 0; i < padded; ++i) out[i] = weight[i] * step.amount;
            else
                weave(step.operation, step.amount, weight, padded, out);
            first = false;
            if (afterEntry) (*afterEntry)(mine, out);
        }
        if (first) fillColumn(1, padded, out);
    }
};

}  // namespace

void feelForces(const std::vector<ForceStep>& forces, const Moment& moment, Block& block, ForceColumns& out) {
    const int padded = paddedCount(block);
    for (float* column : {out.push.x, out.push.y, out.push.z, out.grip}) fillColumn(0, padded, column);
    thread_local ForceColumns one;
    for (const ForceStep& force : forces) {
        weighWeave(force.weave, moment, {}, block, block.where);
        respond(force.where, false, padded, block.where);
        Columns3& local = block.weighed;
        toZone({force.pose.position, force.pose.rotation, {}}, block.place, padded, local);
        force.kind->act({force.data.get(), local, padded, moment}, one);
        for (int i = 0; i < padded; ++i) {
            const float weight = block.where[i] * force.strength;
            const glm::vec3 push = force.pose.rotation * glm::vec3(one.push.x[i], one.push.y[i], one.push.z[i]) * weight;
            const float grip = std::max(0.0f, one.grip[i] * weight);
            if (!(std::abs(push.x + push.y + push.z) < 1e30f) || !(grip < 1e30f)) continue;
            out.push.x[i] += push.x, out.push.y[i] += push.y, out.push.z[i] += push.z;
            out.grip[i] += grip;
        }
    }
}

void weighWeave(const std::vector<WeaveStep>& steps, const Moment& moment, const LaneNumber& offset, Block& block, float* out,
                const AfterEntry* afterEntry) {
    Weaving{moment, offset, block, afterEntry}.into(steps, 0, out);
}

}  // namespace gswarm
