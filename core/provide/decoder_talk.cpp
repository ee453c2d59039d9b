#include "core/provide/decoder_talk.h"

#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/media/decoder_words.h"

namespace gswarm {
namespace {

constexpr int patience = 20'000;  // milliseconds without a byte

/// What can be a name of what a decoder calls one.
template <std::size_t N>
std::string nameIn(const char (&text)[N]) {
    std::string name;
    for (const char c : text) {
        if (!c) break;
        if (std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '-') name += c;
    }
    return name;
}

SoundFacts checked(const decoder::SoundWords& words) {
    const bool sized = words.length > 0 && double(words.length) <= longestSoundHours * 3600 * soundRate && words.channels >= 1 &&
                       words.channels <= 2 && words.fileChannels >= 1 && words.fileChannels <= mostSoundChannels && words.fileRate > 0;
    if (!sized) throw DecoderGaveUp{"said what can't be"};
    SoundFacts facts;
    facts.length = words.length, facts.channels = words.channels;
    facts.fileRate = words.fileRate, facts.fileChannels = words.fileChannels;
    facts.format = nameIn(words.format);
    return facts;
}

ClipFacts checked(const decoder::ClipWords& words) {
    ClipFacts facts;
    facts.width = words.width, facts.height = words.height;
    facts.deep = words.deep != 0, facts.sound = words.sound != 0;
    facts.seconds = words.seconds;
    facts.codec = nameIn(words.codec);
    const bool sized = words.width > 0 && words.height > 0 && words.width <= longestClipSide && words.height <= longestClipSide &&
                       long{words.width} * words.height <= mostClipPixels;
    if (!sized || words.pictures < 1 || words.pictures > static_cast<std::int64_t>(mostClipPictures) || !std::isfinite(words.seconds))
        throw DecoderGaveUp{"said what can't be"};
    return facts;
}

}  // namespace

DecoderTalk::~DecoderTalk() { ::close(socket_); }

void DecoderTalk::ask(std::int64_t number) {
    const auto* bytes = reinterpret_cast<const char*>(&number);
    if (::send(socket_, bytes, sizeof number, MSG_NOSIGNAL) != static_cast<ssize_t>(sizeof number)) throw DecoderGaveUp{"ended"};
    hearAnswer();
}

ClipPicture DecoderTalk::picture(std::int64_t number) {
    ask(number);
    ClipPicture picture{std::vector<std::uint8_t>(clip_.pictureBytes())};
    hear(picture.bytes.data(), picture.bytes.size());
    return picture;
}

const ClipFacts& DecoderTalk::hearClip() {
    hearAnswer();
    decoder::ClipWords words{};
    hear(&words, sizeof words);
    clip_ = checked(words);
    clip_.begins.resize(static_cast<std::size_t>(words.pictures));
    hear(clip_.begins.data(), clip_.begins.size() * sizeof(double));
    double last = 0;
    for (double& begins : clip_.begins) begins = last = std::isfinite(begins) ? std::max(begins, last) : last;
    clip_.begins.front() = 0;
    clip_.seconds = std::max(clip_.seconds, last + 1e-6);
    return clip_;
}

const SoundFacts& DecoderTalk::hearSound() {
    hearAnswer();
    decoder::SoundWords words{};
    hear(&words, sizeof words);
    sound_ = checked(words);
    return sound_;
}

SoundPiece DecoderTalk::piece(std::int64_t number) {
    if (number < 0 || number >= sound_.pieces()) throw Error("has no such piece");
    ask(number);
    SoundPiece piece{sound_.channels, std::vector<float>(static_cast<std::size_t>(sound_.lengthOf(number) * sound_.channels))};
    hear(piece.samples.data(), piece.samples.size() * sizeof(float));
    for (float& sample : piece.samples) sample = std::isfinite(sample) ? std::clamp(sample, -mostSample, mostSample) : 0;
    return piece;
}

/// Waits for an answer that is no sentence.
void DecoderTalk::hearAnswer() {
    char kind = 0;
    do hear(&kind, 1);
    while (kind == decoder::stillAtWork);
    if (kind == decoder::answered) return;
    std::uint32_t length = 0;
    if (kind != decoder::refused) throw DecoderGaveUp{"said what can't be"};
    hear(&length, sizeof length);
    if (length == 0 || length > decoder::longestSentence) throw DecoderGaveUp{"said what can't be"};
    std::string sentence(length, ' ');
    hear(sentence.data(), length);
    const bool told = std::none_of(sentence.begin(), sentence.end(), [](char c) { return static_cast<unsigned char>(c) < 32; });
    if (!told || !isUtf8(sentence)) throw DecoderGaveUp{"said what can't be"};
    throw Error(sentence);
}

void DecoderTalk::hear(void* to, std::size_t size) {
    auto* at = static_cast<char*>(to);
    while (size > 0) {
        pollfd waits{socket_, POLLIN, 0};
        const int ready = ::poll(&waits, 1, patience);
        if (ready < 0 && errno == EINTR) continue;
        if (ready == 0) throw DecoderGaveUp{"said nothing for 20 seconds"};
        const ssize_t got = ::recv(socket_, at, size, 0);
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) throw DecoderGaveUp{"ended"};
        at += got, size -= static_cast<std::size_t>(got);
    }
}

}  // namespace gswarm
