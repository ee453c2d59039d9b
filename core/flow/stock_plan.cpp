#include "core/flow/stock_plan.h"

#include <algorithm>

#include "core/base/chance.h"

namespace gswarm {

void chooseVariants(const StockPlan& stock, const HomePlan& homes, const Bounds& bounds, const Moment& moment, Block& block) {
    const int padded = paddedCount(block);
    const auto entries = static_cast<int>(stock.entries.size());
    if (stock.variants.size() == 1) {
        std::fill_n(block.variant, padded, std::uint16_t{0});
        return;
    }
    const bool byPattern = stock.stockRule.by == StockRuleBy::pattern && entries > 1;
    if (byPattern) {
        const LaneNumber now;
        stock.patternKind().fill(stock.pattern.data.get(), {block, block.home.position, bounds, moment, now}, block.pattern);
    }
    const auto seed = static_cast<std::uint32_t>(stock.stockRule.seed);
    const auto byShare = [&](float share) {
        int e = 0;
        while (e + 1 < entries && !(share < stock.entries[static_cast<std::size_t>(e)].until)) ++e;
        return e;
    };
    for (int i = 0; i < padded; ++i) {
        const int row = block.first + std::min(i, block.count - 1), number = static_cast<int>(block.order[i]);
        int e = 0;
        if (entries > 1 && stock.stockRule.by == StockRuleBy::turn) e = number % entries;
        if (entries > 1 && stock.stockRule.by == StockRuleBy::chance)
            e = byShare(chance(seed, static_cast<std::uint64_t>(block.home.idHigh[i]) << 32 | block.home.idLow[i], 5));
        if (byPattern) e = byShare(stock.patternKind().isSigned ? (block.pattern.x[i] + 1) / 2 : block.pattern.x[i]);
        const StockPlan::Entry& entry = stock.entries[static_cast<std::size_t>(e)];
        const int within = entry.count == 1 ? 0 : static_cast<int>(homes.elementOf(row) % static_cast<std::uint32_t>(entry.count));
        block.variant[i] = static_cast<std::uint16_t>(entry.first + within);
    }
}

}  // namespace gswarm
