#include "core/sound/sound.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {

SoundPart partOf(const SoundLaid& laid, const Sound& sound) {
    const SoundFacts& facts = sound.facts;
    const auto sampleAt = [](float seconds) { return static_cast<std::int64_t>(std::llround(double(seconds) * soundRate)); };
    const std::int64_t end = laid.to > 0 ? std::min(sampleAt(laid.to), facts.length) : facts.length, first = sampleAt(laid.from);
    if (first >= end)
        throw Error("Nothing of it is left between From and To: it is " + shortNumber(std::round(facts.seconds() * 100) / 100) +
                    " s long; change one of them.");
    return {first, end - first, sound.endless || laid.beyond == SoundBeyond::repeat};
}

template <class Take>
void SoundRun::each(std::int64_t from, std::int64_t count, const Take& take) {
    for (std::int64_t done = 0; done < count;) {
        std::int64_t at = from + done;
        if (part_.repeats) {
            at %= part_.length;
            if (at < 0) at += part_.length;
        } else if (at < 0) {
            done = std::min(count, done - at);
            continue;
        } else if (at >= part_.length) {
            return;
        }
        const std::int64_t sample = part_.first + at, number = sample / soundPieceLength, into = sample % soundPieceLength;
        if (number != at_) piece_ = sound_.piece(number), at_ = number;
        const std::int64_t many = std::min({count - done, part_.length - at, piece_->length() - into});
        if (many <= 0) return;
        take(*piece_, into, many, done);
        done += many;
    }
}

void SoundRun::mono(std::int64_t from, std::int64_t count, float* to) {
    std::fill_n(to, count, 0.0f);
    each(from, count, [&](const SoundPiece& piece, std::int64_t first, std::int64_t many, std::int64_t before) {
        for (std::int64_t i = 0; i < many; ++i) to[before + i] = piece.mono(first + i);
    });
}

void SoundRun::addStereo(std::int64_t from, std::int64_t count, float gain, float* to) {
    each(from, count, [&](const SoundPiece& piece, std::int64_t first, std::int64_t many, std::int64_t before) {
        for (std::int64_t i = 0; i < many; ++i)
            for (int side = 0; side < 2; ++side)
                to[2 * (before + i) + side] +=
                    gain * piece.samples[static_cast<std::size_t>((first + i) * piece.channels + (piece.channels == 2 ? side : 0))];
    });
}

}  // namespace gswarm
