#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "core/sound/sound.h"

namespace gswarm {

/// Pieces of a sound by their numbers, read with libsndfile from an open file and brought to soundRate with libswresample. Every piece is
/// decoded for itself, from a second before it, so that it is the same whichever was read before. Throws Error with a sentence, which
/// does not name the file, for what is damaged or too long; sizes are checked before memory is taken.
class SoundReader {
  public:
    /// `alive` is called every now and then during long work.
    SoundReader(int file, std::function<void()> alive);
    ~SoundReader();
    SoundReader(const SoundReader&) = delete;
    SoundReader& operator=(const SoundReader&) = delete;

    const SoundFacts& facts() const;
    /// lengthOf(piece) × channels samples, all numbers within ± 16; silence where the file ends before it said.
    void read(std::int64_t piece, std::vector<float>& to);

  private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace gswarm
