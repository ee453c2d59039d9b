#include "core/provide/decoder_talk.h"

#include <algorithm>
#include <cmath>

#include "core/base/companion.h"
#include "core/base/error.h"
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
    if (!sized) throw CompanionGaveUp{"said what can't be"};
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
        throw CompanionGaveUp{"said what can't be"};
    return facts;
}

}  // namespace

void DecoderTalk::ask(std::int64_t number) {
    sayTo(socket_, &number, sizeof number);
    hearAnswer(socket_, patience);
}

ClipPicture DecoderTalk::picture(std::int64_t number) {
    ask(number);
    ClipPicture picture{std::vector<std::uint8_t>(clip_.pictureBytes())};
    hearFrom(socket_, picture.bytes.data(), picture.bytes.size(), patience);
    return picture;
}

const ClipFacts& DecoderTalk::hearClip() {
    hearAnswer(socket_, patience);
    decoder::ClipWords words{};
    hearFrom(socket_, &words, sizeof words, patience);
    clip_ = checked(words);
    clip_.begins.resize(static_cast<std::size_t>(words.pictures));
    hearFrom(socket_, clip_.begins.data(), clip_.begins.size() * sizeof(double), patience);
    double last = 0;
    for (double& begins : clip_.begins) begins = last = std::isfinite(begins) ? std::max(begins, last) : last;
    clip_.begins.front() = 0;
    clip_.seconds = std::max(clip_.seconds, last + 1e-6);
    return clip_;
}

const SoundFacts& DecoderTalk::hearSound() {
    hearAnswer(socket_, patience);
    decoder::SoundWords words{};
    hearFrom(socket_, &words, sizeof words, patience);
    sound_ = checked(words);
    return sound_;
}

SoundPiece DecoderTalk::piece(std::int64_t number) {
    if (number < 0 || number >= sound_.pieces()) throw Error("has no such piece");
    ask(number);
    SoundPiece piece{sound_.channels, std::vector<float>(static_cast<std::size_t>(sound_.lengthOf(number) * sound_.channels))};
    hearFrom(socket_, piece.samples.data(), piece.samples.size() * sizeof(float), patience);
    for (float& sample : piece.samples) sample = std::isfinite(sample) ? std::clamp(sample, -mostSample, mostSample) : 0;
    return piece;
}

}  // namespace gswarm
