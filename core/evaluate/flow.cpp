#include "core/evaluate/flow.h"

#include <algorithm>
#include <cstring>

#include "core/evaluate/zone_lanes.h"

namespace gswarm {
namespace {

bool staggered(const Card& card) { return card.stagger.by != StaggerBy::none; }

void startBlock(const Plan& plan, int blockNumber, FlowSpace& space) {
    Block& block = space.block;
    block.first = blockNumber * blockSize;
    block.count = std::min(blockSize, plan.count - block.first);
    block.total = plan.count;
    plan.home.place({block.first, block.count, plan.count}, block.home);
    const int padded = paddedCount(block);
    const auto lastReal = static_cast<std::size_t>(block.count - 1);
    for (float* column : {block.home.position.x, block.home.position.y, block.home.position.z, block.home.rotation.x, block.home.rotation.y,
                          block.home.rotation.z, block.home.rotation.w, block.home.size})
        std::fill(column + block.count, column + padded, column[lastReal]);
    const auto bytes = static_cast<std::size_t>(padded) * sizeof(float);
    const auto copy = [bytes](float* to, const float* from) { std::memcpy(to, from, bytes); };
    copy(block.position.x, block.home.position.x);
    copy(block.position.y, block.home.position.y);
    copy(block.position.z, block.home.position.z);
    copy(block.rotation.x, block.home.rotation.x);
    copy(block.rotation.y, block.home.rotation.y);
    copy(block.rotation.z, block.home.rotation.z);
    copy(block.rotation.w, block.home.rotation.w);
    for (float* column : {block.scale.x, block.scale.y, block.scale.z}) copy(column, block.home.size);
    chooseVariants(plan.stock, plan.home, plan.homes, plan.moment, block);
    const auto& variants = plan.stock.variants;
    if (variants.size() == 1) {
        const glm::vec4& c = variants.front().colour;
        std::fill_n(block.colour.x, padded, c.x);
        std::fill_n(block.colour.y, padded, c.y);
        std::fill_n(block.colour.z, padded, c.z);
        std::fill_n(block.colour.w, padded, c.w);
    }
    for (int i = 0; i < padded && variants.size() > 1; ++i) {
        const glm::vec4& c = variants[block.variant[i]].colour;
        block.colour.x[i] = c.x;
        block.colour.y[i] = c.y;
        block.colour.z[i] = c.z;
        block.colour.w[i] = c.w;
    }
    const std::size_t words = (plan.cards.size() + 31) / 32;
    for (auto& channel : space.effect.channel)
        for (std::size_t w = 0; w < words; ++w) std::memset(channel[w], 0, bytes);
}

/// Weight of the weave alone, before the response and the strength.
void runWeave(const Plan& plan, const Card& card, Block& block) {
    const int padded = paddedCount(block);
    if (card.weave.empty()) {
        std::fill_n(block.weight, padded, 1.0f);
        return;
    }
    const bool current = card.changes().place == GesturePlace::current;
    toWorld(plan, current ? block.position : block.home.position, padded, block.place);
    Columns3& local = block.driven;  // free until the gesture is driven
    bool first = true;
    for (const WeaveStep& step : card.weave) {
        std::array<LaneNumber, 8> numbers{};
        for (std::size_t n = 0; n < numbers.size(); ++n) numbers[n].value = step.states[0].numbers[n];
        if (step.states.size() == 1) {
            toZone(step.states[0], block.place, padded, local);
        } else {
            toZoneAtOwnTime(step, plan.moment.frame, block.offset, block.place, padded, 8, local, block.scratch);
            for (std::size_t n = 0; n < numbers.size(); ++n) numbers[n].column = block.scratch[n];
        }
        step.kind->weigh(numbers.data(), local, padded, block.zone);
        if (first) {
            for (int i = 0; i < padded; ++i) block.weight[i] = block.zone[i] * step.amount;
        } else {
            weave(step.operation, step.amount, block.zone, padded, block.weight);
        }
        first = false;
    }
}

std::array<LaneNumber, changeNumberCount> changeNumbers(const Plan& plan, const Card& card, Block& block) {
    std::array<LaneNumber, changeNumberCount> numbers{};
    const int padded = paddedCount(block);
    for (std::size_t n = 0; n < numbers.size(); ++n) {
        numbers[n].value = card.numbers[n];
        if (card.lanes[n].pieces.empty()) continue;
        readPieces(card.lanes[n], plan.moment.frame, block.offset, padded, block.scratch[n]);
        numbers[n].column = block.scratch[n];
    }
    bool colourLanes = false;
    for (int c = 0; c < 3; ++c) colourLanes = colourLanes || numbers[static_cast<std::size_t>(colourNumber + c)].perInstance();
    if (!colourLanes) return numbers;
    for (std::size_t c = colourNumber; c < colourNumber + 3; ++c) {
        if (!numbers[c].perInstance()) {
            std::fill_n(block.scratch[c], padded, static_cast<float>(srgbFromLinear(card.numbers[c])));
            numbers[c].column = block.scratch[c];
        }
    }
    decodeColours(padded, block.scratch[colourNumber], block.scratch[colourNumber + 1], block.scratch[colourNumber + 2]);
    return numbers;
}

void runCard(const Plan& plan, int number, FlowSpace& space) {
    const Card& card = plan.cards[static_cast<std::size_t>(number)];
    Block& block = space.block;
    CardCount& count = space.counts[static_cast<std::size_t>(number)];
    const Change& change = card.changes();
    LaneNumber offset;
    if (staggered(card)) {
        stagger(card.stagger, block, plan.homes, block.offset);
        offset.column = block.offset;
    }
    runWeave(plan, card, block);
    count.clippedWhere = respond(card.where, false, block.count, block.weight);

    const PatternKind& pattern = card.patternKind();
    const int components = pattern.components(card.pattern.data.get());
    const Columns3& place = change.place == GesturePlace::current ? block.position : block.home.position;
    pattern.fill(card.pattern.data.get(), {block, place, plan.homes, plan.moment, offset}, block.pattern);
    count.clippedShaped = 0;
    float* const columns[] = {block.pattern.x, block.pattern.y, block.pattern.z};
    for (int c = 0; c < components; ++c) count.clippedShaped += respond(card.shaped, pattern.isSigned, block.count, columns[c]);

    const auto numbers = changeNumbers(plan, card, block);
    driveBlock(numbers[strengthNumber], components, block);
    const WeightCount weights = countWeights(block.weight, block.count);
    count.touched = weights.touched;
    count.least = weights.least;
    count.most = weights.most;
    applyChange({change, numbers.data(), pattern.isSigned, components, plan.position, plan.rotation, plan.scale, number}, block,
                space.effect);
}

}  // namespace

void runBlock(const Plan& plan, int blockNumber, FlowSpace& space, const AfterCard* afterCard) {
    startBlock(plan, blockNumber, space);
    if (afterCard) (*afterCard)(-1, space.block);
    for (int c = 0; c < static_cast<int>(plan.cards.size()); ++c) {
        space.counts[static_cast<std::size_t>(c)] = {};
        if (plan.cards[static_cast<std::size_t>(c)].acts)
            runCard(plan, c, space);
        else
            std::fill_n(space.block.weight, paddedCount(space.block), 0.0f);
        if (afterCard) (*afterCard)(c, space.block);
    }
}

}  // namespace gswarm
