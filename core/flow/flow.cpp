#include "core/flow/flow.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/flow/block_lanes.h"
#include "core/flow/weigh.h"
#include "core/flow/zone_lanes.h"

namespace gswarm {

const std::vector<MemoryState::Column>* columnsIn(const MemoryState* state, const Plan& plan, int card) {
    const auto at = static_cast<std::size_t>(card);
    if (!state || at >= state->cards.size() || state->count != plan.count) return nullptr;
    const std::vector<bool>& wanted = plan.cards[at].remembered;
    const auto& columns = state->cards[at];
    if (columns.size() != wanted.size()) return nullptr;
    for (std::size_t c = 0; c < wanted.size(); ++c)
        if (columns[c].empty() == wanted[c] && plan.count > 0) return nullptr;
    return &columns;
}

namespace {

void fillColours(const std::vector<Variant>& variants, Block& block) {
    const int padded = paddedCount(block);
    if (variants.size() == 1) {
        const glm::vec4& c = variants.front().look.plain.colour;
        fillColumn(c.x, padded, block.colour.x);
        fillColumn(c.y, padded, block.colour.y);
        fillColumn(c.z, padded, block.colour.z);
        fillColumn(c.w, padded, block.colour.w);
        return;
    }
    for (int i = 0; i < padded; ++i) {
        const glm::vec4& c = variants[block.variant[i]].look.plain.colour;
        block.colour.x[i] = c.x;
        block.colour.y[i] = c.y;
        block.colour.z[i] = c.z;
        block.colour.w[i] = c.w;
    }
}

/// Where a column that homes bring along goes.
float* columnOf(HomeExtra::What what, int named, Block& block) {
    using What = HomeExtra::What;
    switch (what) {
        case What::scaleX:
            return block.scale.x;
        case What::scaleY:
            return block.scale.y;
        case What::scaleZ:
            return block.scale.z;
        case What::red:
            return block.colour.x;
        case What::green:
            return block.colour.y;
        case What::blue:
            return block.colour.z;
        case What::alpha:
            return block.colour.w;
        case What::shown:
            return block.shown;
        case What::named:
            return named < 0 ? nullptr : block.named[named];
        case What::groundU:
        case What::groundV:
            return nullptr;  // patterns ask the homes for them
    }
    return nullptr;
}

void fillExtras(const Plan& plan, Block& block) {
    for (std::size_t k = 0; k < plan.extraNumbers.size(); ++k) {
        const HomeExtra& extra = plan.home.stored->extras[k];
        float* column = columnOf(extra.what, plan.extraNumbers[k], block);
        if (!column) continue;
        const bool scale = extra.what <= HomeExtra::What::scaleZ;
        for (int i = 0; i < paddedCount(block); ++i) {
            const float v = extra.values[static_cast<std::size_t>(block.first + std::min(i, block.count - 1))];
            column[i] = scale ? column[i] * v : extra.what == HomeExtra::What::shown ? float(v != 0) : v;
        }
    }
}

void startBlock(const Plan& plan, int blockNumber, FlowSpace& space) {
    Block& block = space.block;
    block.first = blockNumber * blockSize;
    block.count = std::min(blockSize, plan.count - block.first);
    plan.home.place({block.first, block.count, plan.count}, block.home);
    const int padded = paddedCount(block);
    const auto lastReal = static_cast<std::size_t>(block.count - 1);
    for (float* column : {block.home.position.x, block.home.position.y, block.home.position.z, block.home.rotation.x, block.home.rotation.y,
                          block.home.rotation.z, block.home.rotation.w, block.home.size})
        std::fill(column + block.count, column + padded, column[lastReal]);
    settleAtHome(block);
    if (plan.home.stored)
        for (int i = 0; i < padded; ++i)
            block.number[i] = static_cast<float>(plan.home.numberOf(block.first + std::min(i, block.count - 1)));
    else
        for (int i = 0; i < padded; ++i) block.number[i] = static_cast<float>(block.first + i);
    if (plan.home.anew()) {
        for (int i = 0; i < padded; ++i) {
            const int row = block.first + std::min(i, block.count - 1);
            block.order[i] = static_cast<float>(plan.home.orderOf(row));
            block.stretch[i] = static_cast<float>(plan.home.stretchOf(row));
        }
    } else {
        std::copy_n(block.number, padded, block.order);
        std::fill_n(block.stretch, padded, static_cast<float>(plan.total));
    }
    for (std::size_t k = 0; k < plan.named.size(); ++k) fillColumn(plan.named[k].second, padded, block.named[k]);
    chooseVariants(plan.stock, plan.home, plan.homes, plan.moment, block);
    fillColours(plan.stock.variants, block);
    fillExtras(plan, block);
    for (bool& used : space.effect.used) used = false;
}

/// Writes every stride-th value of a column to its place among the samples.
void sample(const Block& block, int count, const float* column, std::vector<float>& to) {
    const int stride = stripStride(count);
    for (int n = (block.first + stride - 1) / stride * stride; n < block.first + block.count; n += stride)
        to[static_cast<std::size_t>(n / stride)] = column[n - block.first];
}

/// Whether any of them is among the samples.
bool sampled(const Block& block, int count) {
    const int stride = stripStride(count);
    return (block.first + stride - 1) / stride * stride < block.first + block.count;
}

/// Where a number of the card is none, the card does not act. Returns how many those are.
int dropUnnumbered(float* numbers, float instead, int count, float* where) {
    int dropped = 0;
    for (int i = 0; i < count; ++i) {
        if (std::abs(numbers[i]) < 1e30f) continue;
        numbers[i] = instead;
        where[i] = 0;
        ++dropped;
    }
    return dropped;
}

/// One card at work on one block.
struct CardRun {
    const Plan& plan;
    const Card& card;
    int number;
    FlowSpace& space;
    CardSamples* samples;  ///< of this card, or null
    LaneNumber offset{};

    Block& block() const { return space.block; }
    const Columns3& place() const {
        return card.basics().place == GesturePlace::current ? space.block.position : space.block.home.position;
    }

    /// What the gesture finds out by itself, before anything is known of the card.
    void measure() {
        if (card.kind().measure) card.kind().measure(card.change.data.get(), plan.pose, block());
    }

    void shiftTimes() {
        if (!card.ownTime) return;
        Block& b = block();
        if (card.stagger.by == StaggerBy::none)
            fillColumn(0, paddedCount(b), b.offset);
        else
            stagger(card.stagger, b, plan.homes, b.offset);
        for (int i = 0; i < paddedCount(b); ++i) b.offset[i] += b.shift[i];
        offset.column = b.offset;
    }

    /// Weight of the weave alone, before the response and the strength, into block.where.
    void runWeave() {
        Block& b = block();
        if (card.weave.empty()) {
            fillColumn(1, paddedCount(b), b.where);
            return;
        }
        toWorld(plan.pose, place(), paddedCount(b), b.place);
        const AfterEntry keep = [&](std::size_t entry, const float* woven) { sample(b, plan.count, woven, samples->weave[entry].second); };
        weighWeave(card.weave, plan.moment, offset, b, b.where, samples ? &keep : nullptr);
    }

    int runPattern() {
        const PatternKind& pattern = card.patternKind();
        if (samples && !samples->u.empty() && sampled(block(), plan.count)) {
            alignas(64) Column u, v;
            pattern.onPicture(card.pattern.data.get(), {block(), place(), card.range, plan.moment, offset}, u, v);
            sample(block(), plan.count, u, samples->u);
            sample(block(), plan.count, v, samples->v);
        }
        pattern.fill(card.pattern.data.get(), {block(), place(), card.range, plan.moment, offset}, block().pattern);
        return pattern.components(card.pattern.data.get());
    }

    /// The numbers that kernels read: constants, or a column where they are keyed and instances have times of their own.
    /// An instance for which one of them is no number keeps what it had: its weight becomes 0, and it is counted.
    const LaneNumber* numbers(int& notFinite) {
        if (card.lanes.empty()) return card.numbers.data();
        auto& out = space.numbers;
        out = card.numbers;
        Block& b = block();
        const int padded = paddedCount(b);
        bool colourLanes = false;
        for (const auto& [n, lane] : card.lanes) {
            const auto at = static_cast<std::size_t>(n);
            if (readLane(lane, b, plan.moment, offset, b.scratch[at]))
                notFinite += dropUnnumbered(b.scratch[at], out[at].value, b.count, b.where);
            out[at].column = b.scratch[at];
            colourLanes = colourLanes || (card.colourAt >= 0 && n >= card.colourAt && n < card.colourAt + 3);
        }
        if (!colourLanes) return out.data();
        const auto colour = static_cast<std::size_t>(card.colourAt);
        for (std::size_t c = colour; c < colour + 3; ++c) {
            if (out[c].perInstance()) continue;
            fillColumn(static_cast<float>(srgbFromLinear(out[c].value)), padded, b.scratch[c]);
            out[c].column = b.scratch[c];
        }
        decodeColours(padded, b.scratch[colour], b.scratch[colour + 1], b.scratch[colour + 2]);
        return out.data();
    }

    /// Where the instances are half a frame before and after; none if the rail there has other instances.
    bool readTravel() {
        if (!card.before || card.before->count != plan.count || card.after->count != plan.count) return false;
        if (!space.aside) space.aside = std::make_unique<FlowSpace>();
        const std::size_t bytes = static_cast<std::size_t>(paddedCount(block())) * sizeof(float);
        const auto keep = [&](const Plan& rail, Columns3& to) {
            runBlock(rail, block().first / blockSize, *space.aside);
            const Columns3& from = space.aside->block.position;
            std::memcpy(to.x, from.x, bytes);
            std::memcpy(to.y, from.y, bytes);
            std::memcpy(to.z, from.z, bytes);
        };
        keep(*card.before, space.before);
        keep(*card.after, space.after);
        return true;
    }

    int next = 0;  ///< of the card's remembered columns, to be used
    bool knows = false, keeps = false;

    void openMemory() {
        if (card.remembered.empty()) return;
        const auto* before = rememberedBy(plan, number);
        const auto* after = columnsIn(space.remember, plan, number);
        knows = before;
        keeps = after;
        for (std::size_t c = 0; c < card.remembered.size(); ++c) {
            if (before) space.known[c] = (*before)[c].empty() ? nullptr : (*before)[c].data() + block().first;
            if (after) space.kept[c] = (*after)[c].empty() ? nullptr : const_cast<float*>((*after)[c].data()) + block().first;
        }
    }
    const float* const* knownColumns() const { return knows ? space.known.data() + next : nullptr; }
    float* const* keptColumns() const { return keeps ? space.kept.data() + next : nullptr; }

    /// The weight lingers or is held, and what drives it lags behind or swings. Returns the weight for what goes toward
    /// something by a signed pattern.
    const float* followThrough(int components, bool isSigned, bool elsewhere) {
        Block& b = block();
        const int padded = paddedCount(b);
        if (card.follow.weight != WeightMemory::none) {
            const WeightStep step = weightStep(card.follow, plan.memory.frames);
            for (float* column : {b.weight, elsewhere ? b.where : nullptr}) {
                if (!column) continue;
                stepWeights(step, knownColumns(), padded, column, keptColumns());
                next += 2;
            }
            weighDriven(components, b);
        }
        if (card.follow.driven == DrivenMemory::none) return b.weight;
        const bool spring = card.follow.driven == DrivenMemory::spring;
        const OscillatorStep step = spring ? springStep(card.follow.frequency, card.follow.damping, plan.memory.frames, plan.moment.rate)
                                           : lagStep(card.follow.lag, plan.memory.frames);
        const auto follow = [&](float* column) {
            stepDriven(step, spring, knownColumns(), padded, column, keptColumns());
            next += card.follow.drivenColumns();
        };
        float* const driven[] = {b.weighed.x, b.weighed.y, b.weighed.z};
        float* const full[] = {b.full.x, b.full.y, b.full.z};
        for (int c = 0; c < components; ++c) follow(driven[c]);
        for (int c = 0; elsewhere && c < components; ++c) follow(full[c]);
        if (!isSigned) return b.weight;
        std::copy_n(b.weight, padded, b.zone);
        follow(b.zone);
        return b.zone;
    }

    /// The weave and what drives, both responded; returns the components of the latter.
    int drive(CardCount& count) {
        Block& b = block();
        measure();
        shiftTimes();
        runWeave();
        if (samples) sample(b, plan.count, b.where, samples->where);
        count.clippedWhere = respond(card.where, false, b.count, b.where);
        const int components = runPattern();
        if (samples) sample(b, plan.count, b.pattern.x, samples->driven);
        float* const columns[] = {b.pattern.x, b.pattern.y, b.pattern.z};
        for (int c = 0; c < components; ++c) count.clippedShaped += respond(card.shaped, card.patternKind().isSigned, b.count, columns[c]);
        if (card.mayFail) count.notFinite = dropNotFinite(components, b);
        return components;
    }

    void run() {
        Block& b = block();
        CardCount& count = space.counts[static_cast<std::size_t>(number)];
        const int components = drive(count);
        const bool isSigned = card.patternKind().isSigned;
        const LaneNumber* lanes = numbers(count.notFinite);
        const bool elsewhere = card.kind().actsElsewhere && card.kind().actsElsewhere(card.change.data.get());
        const bool constant = card.weave.empty() && !card.mayFail && !lanes[0].column && count.notFinite == 0;
        if (constant && lanes[0].value * b.where[0] == 1 && !elsewhere && card.remembered.empty()) {
            fillColumn(1, paddedCount(b), b.weight);
            b.driven = &b.pattern;
        } else {
            driveBlock(lanes[0], components, elsewhere, b);
            b.driven = &b.weighed;
        }
        openMemory();
        const float* towards = !card.remembered.empty() ? followThrough(components, isSigned, elsewhere) : b.weight;
        // Without zones every instance has the same weight.
        const bool same = constant && card.follow.weight == WeightMemory::none;
        const WeightCount weights =
            same ? WeightCount{b.weight[0] != 0 ? b.count : 0, b.weight[0], b.weight[0]} : countWeights(b.weight, b.count);
        count.touched = elsewhere && (lanes[0].column || lanes[0].value != 0) ? b.count : weights.touched;
        count.least = weights.least;
        count.most = weights.most;
        const bool travels = card.before && readTravel();
        card.kind().apply({card.change.data.get(), lanes, isSigned, components, plan.pose, plan.moment, offset, number,
                           static_cast<int>(plan.cards.size() + 31) / 32, b.first, card.whole.get(), towards, plan.memory.frames,
                           knownColumns(), keptColumns(), travels ? &space.before : &b.position, travels ? &space.after : &b.position},
                          b, space.effect);
        if (samples) sample(b, plan.count, b.weight, samples->strip);
    }
};

}  // namespace

void runBlock(const Plan& plan, int blockNumber, FlowSpace& space, const AfterCard* afterCard, CardSamples* samples) {
    startBlock(plan, blockNumber, space);
    if (space.remember) space.remember->forget(space.block.first, paddedCount(space.block));
    if (afterCard) (*afterCard)(-1, space.block);
    for (int c = 0; c < static_cast<int>(plan.cards.size()); ++c) {
        const Card& card = plan.cards[static_cast<std::size_t>(c)];
        space.counts[static_cast<std::size_t>(c)] = {};
        if (card.acts)
            CardRun{plan, card, c, space, samples ? samples + c : nullptr}.run();
        else
            fillColumn(0, paddedCount(space.block), space.block.weight);
        if (afterCard) (*afterCard)(c, space.block);
    }
}

void runBlockUntil(const Plan& plan, int blockNumber, FlowSpace& space, int card, FlowStage stage) {
    startBlock(plan, blockNumber, space);
    for (int c = 0; c < card; ++c)
        if (plan.cards[static_cast<std::size_t>(c)].acts) CardRun{plan, plan.cards[static_cast<std::size_t>(c)], c, space, nullptr}.run();
    if (stage == FlowStage::before) return;
    CardRun run{plan, plan.cards[static_cast<std::size_t>(card)], card, space, nullptr};
    run.measure();
    run.shiftTimes();
    run.runWeave();
    if (stage == FlowStage::woven) return;
    respond(run.card.where, false, space.block.count, space.block.where);
    run.runPattern();
}

int driveCard(const Plan& plan, FlowSpace& space, int card) {
    CardCount nobodyCounts;
    return CardRun{plan, plan.cards[static_cast<std::size_t>(card)], card, space, nullptr}.drive(nobodyCounts);
}

const std::vector<MemoryState::Column>* rememberedBy(const Plan& plan, int card) {
    return plan.cards[static_cast<std::size_t>(card)].settles ? nullptr : columnsIn(plan.memory.from.get(), plan, card);
}

}  // namespace gswarm
