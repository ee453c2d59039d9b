#include "core/evaluate/evaluator.h"

#include <algorithm>

#include "core/base/parallel.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/memory/memory.h"
#include "core/prepare/prepare.h"

namespace gswarm {
namespace {

void addSteps(const std::vector<WeaveStep>& steps, std::size_t count, CardSamples& samples) {
    for (const WeaveStep& step : steps) {
        samples.weave.push_back({step.entry, std::vector<float>(count)});
        addSteps(step.group, count, samples);
    }
}

CardSamples emptySamples(const Card& card, int instances) {
    const auto count = static_cast<std::size_t>((instances + stripStride(instances) - 1) / stripStride(instances));
    CardSamples samples{std::vector<float>(count), std::vector<float>(count), std::vector<float>(count), {}};
    addSteps(card.weave, count, samples);
    return samples;
}

}  // namespace

Evaluator::Evaluator(int threads) : workers_(threads) {}
Evaluator::~Evaluator() = default;

Plan Evaluator::plan(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Progress& progress) {
    Plan plan;
    workers_.run([&] { plan = prepare(scene, swarm, frame, options, store_, progress); });
    return plan;
}

std::shared_ptr<ResultColumns> Evaluator::freshColumns(int count, std::size_t mixed) {
    const std::lock_guard lock(poolMutex_);
    std::shared_ptr<ResultColumns> columns;
    for (auto& pooled : pool_)
        if (pooled.use_count() == 1) columns = pooled;
    if (!columns) {
        columns = std::make_shared<ResultColumns>();
        if (pool_.size() < 8) pool_.push_back(columns);
    }
    const auto n = static_cast<std::size_t>(count);
    columns->matrix.resize(12 * n);
    columns->colour.resize(n);
    columns->variant.resize(n);
    columns->mixed.resize(mixed * n);
    return columns;
}

std::shared_ptr<const Result> Evaluator::alike(const Plan& plan) {
    const std::lock_guard lock(poolMutex_);
    const auto found = last_.find(plan.swarm);
    if (plan.hash == 0 || found == last_.end() || found->second->hash != plan.hash || found->second->wanted != plan.wanted) return nullptr;
    if (found->second->moment.frame == plan.moment.frame) return found->second;
    auto same = std::make_shared<Result>(*found->second);
    same->moment = plan.moment;
    return same;
}

std::shared_ptr<const Result> Evaluator::run(const Plan& plan, Progress& progress) {
    if (auto same = alike(plan)) return same;
    auto result = std::make_shared<Result>();
    result->swarm = plan.swarm;
    result->moment = plan.moment;
    result->pose = plan.pose;
    result->copies = plan.copies;
    result->shown = plan.shown;
    result->count = plan.count;
    result->total = plan.total;
    result->wantWhole = plan.wantWhole;
    result->hash = plan.hash;
    result->home = plan.home;
    result->variants = plan.stock.variants;
    result->backdrops = plan.backdrops;
    result->notes = plan.notes;
    result->columns = freshColumns(plan.count, plan.stock.mixedBy.size());
    result->wanted = plan.wanted;
    // Weights that are wanted, or that mix materials, are kept as their cards act.
    struct Keep {
        int card;
        float* to;
    };
    std::vector<Keep> kept;
    const auto keep = [&](ObjectId entry, float* to) {
        for (std::size_t c = 0; c < plan.cards.size(); ++c)
            if (plan.cards[c].entry == entry) kept.push_back({static_cast<int>(c), to});
    };
    if (plan.wanted.weightsOf) {
        result->weights.resize(static_cast<std::size_t>(plan.count));
        keep(plan.wanted.weightsOf, result->weights.data());
        if (kept.empty()) result->weights.clear();
    }
    for (std::size_t c = 0; c < plan.stock.mixedBy.size(); ++c) {
        float* column = result->columns->mixed.data() + c * static_cast<std::size_t>(plan.count);
        if (plan.stock.mixedBy[c].named >= 0) continue;
        std::fill_n(column, plan.count, 0.0f);
        keep(plan.stock.mixedBy[c].card, column);
    }
    if (plan.wanted.placements) result->placements.resize(static_cast<std::size_t>(plan.count));
    const AfterCard keepWeights = [&](int card, const Block& block) {
        for (const Keep& k : kept)
            if (card == k.card) std::copy_n(block.weight, block.count, k.to + block.first);
    };
    const std::size_t cards = plan.cards.size();
    std::vector<CardSamples> samples;
    for (const Card& card : plan.cards) {
        Census census;
        census.entry = card.entry;
        census.acts = card.acts;
        census.waits = card.waits;
        result->cards.push_back(std::move(census));
        samples.push_back(emptySamples(card, plan.count));
    }
    std::vector<CardCount> counts(static_cast<std::size_t>(plan.blocks()) * cards);
    std::vector<BlockCount> blocks(static_cast<std::size_t>(plan.blocks()));

    const std::uint64_t key = plan.memory.key;
    const auto state = key && !store_.checkpoints().has(key) ? emptyState(plan) : nullptr;
    const auto work = [&](std::size_t first, std::size_t end) {
        FlowSpace& space = store_.spaces().local();
        space.remember = state.get();
        for (std::size_t b = first; b < end; ++b) {
            if (progress.cancelled()) return;
            runBlock(plan, static_cast<int>(b), space, kept.empty() ? nullptr : &keepWeights, samples.data());
            if (plan.wanted.placements) placeBlock(plan, space.block, result->placements);
            blocks[b] = finishBlock(plan, space, *result->columns);
            std::copy_n(space.counts.begin(), cards, counts.begin() + static_cast<std::ptrdiff_t>(b * cards));
        }
    };
    workers_.run([&] { forRanges(static_cast<std::size_t>(plan.blocks()), 1, work); });
    progress.check();
    if (state) store_.checkpoints().keep(key, state);

    for (std::size_t b = 0; b < blocks.size(); ++b) {
        result->visible += blocks[b].visible;
        result->notFinite += blocks[b].notFinite;
        result->bounds.low = glm::min(result->bounds.low, blocks[b].bounds.low);
        result->bounds.high = glm::max(result->bounds.high, blocks[b].bounds.high);
        for (std::size_t c = 0; c < cards; ++c) {
            const CardCount& count = counts[b * cards + c];
            Census& census = result->cards[c];
            census.touched += count.touched;
            census.notFinite += count.notFinite;
            census.seen += count.seen;
            census.clippedWhere += count.clippedWhere;
            census.clippedShaped += count.clippedShaped;
            census.least = b == 0 ? count.least : std::min(census.least, count.least);
            census.most = b == 0 ? count.most : std::max(census.most, count.most);
        }
    }
    for (std::size_t c = 0; c < cards; ++c) result->cards[c].samples = std::move(samples[c]);
    const std::lock_guard lock(poolMutex_);
    if (plan.hash) last_[plan.swarm] = result;
    return result;
}

float shareOf(const Result& result, std::uint32_t row) {
    return result.total > 1 ? static_cast<float>(result.home.numberOf(static_cast<int>(row))) / static_cast<float>(result.total - 1) : 0.0f;
}

LookedAt lookedAt(const Result& result, std::uint32_t row) {
    LookedAt at;
    at.share = shareOf(result, row);
    const auto& mixed = result.columns->mixed;
    const auto count = static_cast<std::size_t>(result.count);
    for (std::size_t c = 0; c * count < mixed.size(); ++c) at.named[c] = mixed[c * count + row];
    return at;
}

std::vector<std::vector<std::uint32_t>> instancesByVariant(const Result& result) {
    std::vector<std::vector<std::uint32_t>> out(result.variants.size());
    for (std::size_t i = 0; i < static_cast<std::size_t>(result.count); ++i)
        if (const std::uint16_t v = result.columns->variant[i]; v != notShown) out[v].push_back(static_cast<std::uint32_t>(i));
    return out;
}

void Evaluator::forBlocks(const Plan& plan, Progress& progress, const AfterCard* afterCard, const std::function<void(Block&)>& take) {
    workers_.run([&] {
        forEach(static_cast<std::size_t>(plan.blocks()), [&](std::size_t b) {
            if (progress.cancelled()) return;
            FlowSpace& space = store_.spaces().local();
            runBlock(plan, static_cast<int>(b), space, afterCard);
            take(space.block);
        });
    });
    progress.check();
}

std::shared_ptr<const Result> Evaluator::evaluate(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options,
                                                  Progress& progress) {
    return run(plan(scene, swarm, frame, options, progress), progress);
}

}  // namespace gswarm
