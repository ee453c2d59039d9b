#include "core/evaluate/table.h"

#include <cmath>

#include "core/base/error.h"
#include "core/evaluate/flow.h"

namespace gswarm {
namespace {

std::uint64_t idAt(const HomeColumns& home, int i) { return static_cast<std::uint64_t>(home.idHigh[i]) << 32 | home.idLow[i]; }

InstanceRow rowAt(const Plan& plan, const Scene& scene, const Block& block, int i) {
    const Variant& variant = plan.stock.variants[block.variant[i]];
    const glm::vec3 position(block.position.x[i], block.position.y[i], block.position.z[i]);
    const glm::quat rotation(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
    const glm::vec3 scale = glm::vec3(block.scale.x[i], block.scale.y[i], block.scale.z[i]) * variant.size;
    const float total = position.x + position.y + position.z + rotation.w + scale.x + scale.y + scale.z;
    const bool shown = plan.shown && std::isfinite(total) && scale.x * scale.y * scale.z > 0;
    const auto encoded = [](float v) { return static_cast<float>(srgbFromLinear(v)); };
    return {block.first + i,
            idAt(block.home, i),
            scene.at(variant.shape).name,
            shown,
            plan.position + plan.rotation * (plan.scale * position),
            plan.rotation * rotation,
            scale * plan.scale,
            {encoded(block.colour.x[i]), encoded(block.colour.y[i]), encoded(block.colour.z[i]), block.colour.w[i]}};
}

}  // namespace

void readInstances(const Plan& plan, const Scene& scene, const std::function<bool(const InstanceRow&)>& take) {
    const auto space = std::make_unique<FlowSpace>();
    for (int b = 0; b < plan.blocks(); ++b) {
        runBlock(plan, b, *space);
        for (int i = 0; i < space->block.count; ++i)
            if (!take(rowAt(plan, scene, space->block, i))) return;
    }
}

int numberOfId(const Plan& plan, std::uint64_t id) {
    const auto homes = std::make_unique<HomeColumns>();
    for (int first = 0; first < plan.count; first += blockSize) {
        const HomeRange range{first, std::min(blockSize, plan.count - first), plan.count};
        plan.home.place(range, *homes);
        for (int i = 0; i < range.count; ++i)
            if (idAt(*homes, i) == id) return first + i;
    }
    return -1;
}

std::vector<TallyRow> tally(const Plan& plan, const Scene& scene, std::uint64_t id) {
    const int number = numberOfId(plan, id);
    if (number < 0)
        throw Error("No instance of “" + scene.at(plan.swarm).name + "” has the id " + std::to_string(id) + "; evaluate lists all ids.");
    const auto space = std::make_unique<FlowSpace>();
    std::vector<TallyRow> rows;
    const AfterCard record = [&](int card, const Block& block) {
        const int i = number - block.first;
        const std::string name = card < 0 ? "Home" : scene.at(plan.cards[static_cast<std::size_t>(card)].gesture).name;
        rows.push_back({name, card < 0 ? 1 : block.weight[i], rowAt(plan, scene, block, i)});
    };
    runBlock(plan, number / blockSize, *space, &record);
    return rows;
}

}  // namespace gswarm
