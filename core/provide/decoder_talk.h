#pragma once
#include <cstdint>
#include <string>

#include "core/media/clip_facts.h"
#include "core/sound/sound.h"

namespace gswarm {

/// What a decoder did that was no answer: it ended, was silent, or said what can't be.
struct DecoderGaveUp {
    std::string how;
};

/// The talk with a program that decodes, over a socket that it closes at its end. Nothing that is heard is believed: sizes are checked
/// before memory is taken. Throws Error with the decoder's own sentence, which does not name the file, or DecoderGaveUp.
class DecoderTalk {
  public:
    explicit DecoderTalk(int socket) : socket_(socket) {}
    ~DecoderTalk();
    DecoderTalk(const DecoderTalk&) = delete;
    DecoderTalk& operator=(const DecoderTalk&) = delete;

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
    void hearAnswer();
    void hear(void* to, std::size_t size);

    int socket_;
    ClipFacts clip_;
    SoundFacts sound_;
};

}  // namespace gswarm
