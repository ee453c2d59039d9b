#pragma once
#include <cstdint>
#include <string>

#include "core/media/clip_facts.h"
#include "core/sound/sound.h"

namespace gswarm {

/// The talk with a program that decodes, over its socket. Nothing that is heard is believed: sizes are checked
/// before memory is taken. Throws Error with the decoder's own sentence, which does not name the file, or
/// CompanionGaveUp.
class DecoderTalk {
  public:
    explicit DecoderTalk(int socket) : socket_(socket) {}

    /// What it says first of a clip, and one of its pictures.
    const ClipFacts& hearClip();
    const ClipFacts& clip() const { return clip_; }
    ClipPicture picture(std::int64_t number);
    /// The same of a sound.
    const SoundFacts& hearSound();
    const SoundFacts& sound() const { return sound_; }
    SoundPiece piece(std::int64_t number);

  private:
    void ask(std::int64_t number);

    int socket_;
    ClipFacts clip_;
    SoundFacts sound_;
};

}  // namespace gswarm
