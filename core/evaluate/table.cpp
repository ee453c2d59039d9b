#include "core/evaluate/table.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/evaluate/flow.h"
#include "core/scene/edit.h"

namespace gswarm {
namespace {

std::uint64_t idAt(const HomeColumns& home, int i) { return static_cast<std::uint64_t>(home.idHigh[i]) << 32 | home.idLow[i]; }

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
    const float total = position.x + position.y + position.z + rotation.w + scale.x + scale.y + scale.z;
    const bool shown = plan.shown && block.shown[i] > 0 && std::isfinite(total) && scale.x * scale.y * scale.z > 0;
    const auto encoded = [](float v) { return static_cast<float>(srgbFromLinear(v)); };
    return {static_cast<int>(block.number[i]),
            idAt(block.home, i),
            scene.at(variant.shape).name,
            shown,
            plan.pose.toWorld(position),
            plan.pose.rotation * rotation,
            scale * plan.pose.scale,
            {encoded(block.colour.x[i]), encoded(block.colour.y[i]), encoded(block.colour.z[i]), block.colour.w[i]},
            namedAt(plan, block, i)};
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

std::vector<std::uint64_t> idsOfRows(const HomePlan& homes, const std::vector<std::uint32_t>& rows) {
    const auto columns = std::make_unique<HomeColumns>();
    std::vector<std::uint64_t> ids;
    int have = -1;
    for (const std::uint32_t row : rows) {
        const int block = static_cast<int>(row) / blockSize, first = block * blockSize;
        if (block != have) homes.place({first, std::min(blockSize, homes.count - first), homes.count}, *columns);
        have = block;
        ids.push_back(idAt(*columns, static_cast<int>(row) - first));
    }
    return ids;
}

namespace {

/// Ids in a table of at least twice as many places, each at or behind its own.
class IdSet {
  public:
    explicit IdSet(const std::vector<std::uint64_t>& ids) {
        while ((std::size_t{1} << bits_) < 2 * ids.size()) ++bits_;
        places_.resize(std::size_t{1} << bits_);
        for (const std::uint64_t id : ids) {
            holdsZero_ = holdsZero_ || id == 0;
            places_[placeOf(id)] = id;
        }
    }
    bool contains(std::uint64_t id) const { return id == 0 ? holdsZero_ : places_[placeOf(id)] == id; }

  private:
    /// Where it stands, or the empty place where it would.
    std::size_t placeOf(std::uint64_t id) const {
        std::size_t place = id * 0x9E3779B97F4A7C15u >> (64 - bits_);
        while (places_[place] != 0 && places_[place] != id) place = (place + 1) & (places_.size() - 1);
        return place;
    }
    int bits_ = 4;
    std::vector<std::uint64_t> places_;  ///< 0 where there is none
    bool holdsZero_ = false;
};

}  // namespace

std::vector<std::uint32_t> rowsOfIds(const HomePlan& homes, const std::vector<std::uint64_t>& ids) {
    const auto columns = std::make_unique<HomeColumns>();
    const IdSet wanted(ids);
    std::vector<std::uint32_t> rows;
    for (int first = 0; first < homes.count && rows.size() < ids.size(); first += blockSize) {
        const HomeRange range{first, std::min(blockSize, homes.count - first), homes.count};
        homes.place(range, *columns);
        for (int i = 0; i < range.count; ++i)
            if (wanted.contains(idAt(*columns, i))) rows.push_back(static_cast<std::uint32_t>(first + i));
    }
    return rows;
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
