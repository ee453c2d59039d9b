#pragma once
#include <cstdint>
#include <vector>

#include "core/sound/sound.h"

namespace gswarm {

/// How far a sound swings in every hundredth of a second, and in ever longer stretches: its wave is drawn at any zoom without looking
/// at samples. Grows piece by piece.
class SoundPeaks {
  public:
    struct Swing {
        float least = 0, most = 0;
    };
    static constexpr std::int64_t block = soundRate / 100;

    explicit SoundPeaks(const SoundFacts& facts);
    /// The next piece that is not in it yet; pieces() once all are.
    std::int64_t next() const { return next_; }
    std::int64_t pieces() const { return pieces_; }
    void add(const SoundPiece& piece);
    /// Between two samples; none at all where nothing was read yet.
    Swing between(std::int64_t from, std::int64_t to) const;

  private:
    std::int64_t next_ = 0, pieces_ = 0;
    std::vector<std::vector<Swing>> levels_;  ///< each has one for two of the one before
};

}  // namespace gswarm
