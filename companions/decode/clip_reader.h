#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "core/media/clip_facts.h"

namespace gswarm {

/// Pictures of a clip by their numbers, read with FFmpeg from an open file. Nothing but that file is ever opened. Throws Error with a
/// sentence, which does not name the file, for what is damaged or too large; sizes are checked before memory is taken.
class ClipReader {
  public:
    /// `mostBytes` is what a picture may take; `alive` is called every now and then during long work.
    ClipReader(int file, std::size_t mostBytes, std::function<void()> alive);
    ~ClipReader();
    ClipReader(const ClipReader&) = delete;
    ClipReader& operator=(const ClipReader&) = delete;

    const ClipFacts& facts() const;
    /// A picture by its number: facts().pictureBytes() bytes. Those that follow one another are quickest; so are a few backward.
    void read(std::int64_t picture, std::vector<std::uint8_t>& to);

  private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace gswarm
