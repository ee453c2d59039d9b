#include "core/read/table.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/flow/home_plan.h"
#include "core/symmetry/copies.h"

namespace gswarm {
namespace {

std::vector<float> namedAt(const Plan& plan, const Block& block, int i) {
    std::vector<float> values;
    for (std::size_t k = 0; k < plan.named.size(); ++k) values.push_back(block.named[k][i]);
    return values;
}

InstanceRow rowAt(const Plan& plan, const Scene& scene, const Block& block, int i) {
    const Variant& variant = plan.stock.variants[block.variant[i]];
    const glm::vec3 position(block.position.x[i], block.position.y[i], block.position.z[i]);
    const glm::quat rotation(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
    const glm::vec3 scale = glm::vec3(block.scale.x[i], block.scale.y[i], block.scale.z[i]) * variant.size;
    const bool shown = plan.shown && shownAt(plan, block, i);
    const auto encoded = [](float v) { return static_cast<float>(srgbFromLinear(v)); };
    return {static_cast<int>(block.number[i]),
            0,
            idAt(block.home, i),
            scene.at(variant.shape).name,
            shown,
            plan.pose.toWorld(position),
            plan.pose.rotation * rotation,
            scale * plan.pose.scale,
            {encoded(block.colour.x[i]), encoded(block.colour.y[i]), encoded(block.colour.z[i]), block.colour.w[i]},
            namedAt(plan, block, i)};
}

InstanceRow inCopy(const Plan& plan, const InstanceRow& original, const CopyInWorld& copy, int number) {
    const WorldPose& pose = plan.pose;
    InstanceRow row = original;
    row.copy = number;
    row.position = copy.place(pose.fromWorld(original.position));
    row.rotation = copy.rotation(glm::conjugate(pose.rotation) * original.rotation);
    row.scale = copy.scale(original.scale / pose.scale);
    return row;
}

}  // namespace

void readInstances(const Plan& plan, const Scene& scene, const std::function<bool(const InstanceRow&)>& take, bool listCopies) {
    const auto space = std::make_unique<FlowSpace>();
    const auto copies = listCopies ? furtherCopies(plan.pose, plan.copies) : std::vector<CopyInWorld>{};
    for (int b = 0; b < plan.blocks(); ++b) {
        runBlock(plan, b, *space);
        for (int i = 0; i < space->block.count; ++i) {
            const InstanceRow row = rowAt(plan, scene, space->block, i);
            if (!take(row)) return;
            for (std::size_t k = 0; k < copies.size(); ++k)
                if (!take(inCopy(plan, row, copies[k], static_cast<int>(k) + 1))) return;
        }
    }
}

std::vector<TallyRow> tally(const Plan& plan, const Scene& scene, std::uint64_t id) {
    const auto found = rowsOfIds(plan.home, {id});
    if (found.empty())
        throw Error("No instance of “" + scene.at(plan.swarm).name + "” has the id " + std::to_string(id) + "; evaluate lists all ids.");
    const int row = static_cast<int>(found.front());
    const auto space = std::make_unique<FlowSpace>();
    std::vector<TallyRow> rows;
    const AfterCard record = [&](int card, const Block& block) {
        const int i = row - block.first;
        const std::string name = card < 0 ? "Home" : nameOfCard(scene, plan.cards[static_cast<std::size_t>(card)].entry);
        rows.push_back({name, card < 0 ? 1 : block.weight[i], rowAt(plan, scene, block, i)});
    };
    runBlock(plan, row / blockSize, *space, &record);
    return rows;
}

}  // namespace gswarm
