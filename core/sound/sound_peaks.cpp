#include "core/sound/sound_peaks.h"

#include <algorithm>

namespace gswarm {
namespace {

constexpr std::int64_t blocksOfPiece = soundPieceLength / SoundPeaks::block;

SoundPeaks::Swing both(const SoundPeaks::Swing& a, const SoundPeaks::Swing& b) {
    return {std::min(a.least, b.least), std::max(a.most, b.most)};
}

}  // namespace

SoundPeaks::SoundPeaks(const SoundFacts& facts) : pieces_(facts.pieces()) {
    auto count = static_cast<std::size_t>((facts.length + block - 1) / block);
    while (true) {
        levels_.emplace_back(count);
        if (count <= 1) break;
        count = (count + 1) / 2;
    }
}

void SoundPeaks::add(const SoundPiece& piece) {
    const auto first = static_cast<std::size_t>(next_ * blocksOfPiece);
    auto& finest = levels_.front();
    std::size_t last = first;
    for (std::int64_t from = 0; from < piece.length() && last < finest.size(); from += block, ++last)
        for (std::int64_t i = from; i < std::min(from + block, piece.length()); ++i) {
            const float sample = piece.mono(i);
            finest[last] = both(finest[last], {sample, sample});
        }
    std::size_t begin = first / 2;
    for (std::size_t level = 1; level < levels_.size(); ++level, begin /= 2) {
        const auto& below = levels_[level - 1];
        last = (last + 1) / 2;
        for (std::size_t i = begin; i < last; ++i)
            levels_[level][i] = 2 * i + 1 < below.size() ? both(below[2 * i], below[2 * i + 1]) : below[2 * i];
    }
    ++next_;
}

SoundPeaks::Swing SoundPeaks::between(std::int64_t from, std::int64_t to) const {
    const auto size = static_cast<std::int64_t>(levels_.front().size());
    std::int64_t low = std::clamp<std::int64_t>(from / block, 0, size), high = std::clamp<std::int64_t>((to + block - 1) / block, 0, size);
    if (from < 0 && to <= 0) return {};
    if (from >= size * block) return {};
    Swing swing;
    // Up from both ends, taking what no longer stretch covers.
    for (std::size_t level = 0; low < high; ++level, low /= 2, high /= 2) {
        const auto& here = levels_[level];
        if (low % 2) swing = both(swing, here[static_cast<std::size_t>(low++)]);
        if (high % 2) swing = both(swing, here[static_cast<std::size_t>(--high)]);
    }
    return swing;
}

}  // namespace gswarm
