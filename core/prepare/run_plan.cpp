#include "core/prepare/run_plan.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/flow/tree.h"
#include "core/memory/memory.h"
#include "core/prepare/moments.h"
#include "core/provide/store.h"

namespace gswarm {
namespace {

constexpr std::uint64_t mostGroups = 1'000'000;

void addSteps(const std::vector<WeaveStep>& steps, std::size_t count, CardSamples& samples) {
    for (const WeaveStep& step : steps) {
        samples.weave.push_back({step.entry, std::vector<float>(count)});
        addSteps(step.group, count, samples);
    }
}

CardSamples emptySamples(const Card& card, int instances) {
    const auto count = static_cast<std::size_t>((instances + stripStride(instances) - 1) / stripStride(instances));
    const std::vector<float> each(count), onPicture(card.acts && card.patternKind().onPicture ? count : 0);
    CardSamples samples{each, each, each, onPicture, onPicture, {}};
    addSteps(card.weave, count, samples);
    return samples;
}

std::shared_ptr<ResultColumns> sized(const std::shared_ptr<ResultColumns>& columns, const Plan& plan) {
    const auto n = static_cast<std::size_t>(plan.count);
    columns->matrix.resize(12 * n);
    columns->colour.resize(n);
    columns->variant.resize(n);
    columns->mixed.resize(plan.stock.mixedBy.size() * n);
    columns->named.resize(plan.keepsNamed ? plan.named.size() * n : 0);
    return columns;
}

}  // namespace

std::shared_ptr<const Result> runPlan(const Plan& plan, const std::shared_ptr<ResultColumns>& columns, Store& store, Progress& progress) {
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
    result->columns = sized(columns, plan);
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
    std::vector<int> moments(plan.stock.clips.empty() ? 0 : static_cast<std::size_t>(plan.count));
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
    const auto state = key && !store.checkpoints().has(key) ? emptyState(plan) : nullptr;
    const auto work = [&](std::size_t first, std::size_t end) {
        FlowSpace& space = store.spaces().local();
        space.remember = state.get();
        for (std::size_t b = first; b < end; ++b) {
            if (progress.cancelled()) return;
            runBlock(plan, static_cast<int>(b), space, kept.empty() ? nullptr : &keepWeights, samples.data());
            if (plan.wanted.placements) placeBlock(plan, space.block, result->placements);
            blocks[b] = finishBlock(plan, space, *result->columns);
            if (!moments.empty()) takeMoments(plan, space.block, moments);
            std::copy_n(space.counts.begin(), cards, counts.begin() + static_cast<std::ptrdiff_t>(b * cards));
        }
    };
    forRanges(static_cast<std::size_t>(plan.blocks()), 1, work);
    progress.check();
    if (state) store.checkpoints().keep(key, state);

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
    if (!moments.empty()) showMoments(plan, moments, *result, progress);
    countLeaves(*result);
    if (result->groups > mostGroups)
        throw Error("It would be drawn in " + std::to_string(result->groups) + " groups of shapes, more than the limit of " +
                    std::to_string(mostGroups) + "; repeat fewer swarms, or swarms of fewer different shapes.");
    return result;
}

}  // namespace gswarm
