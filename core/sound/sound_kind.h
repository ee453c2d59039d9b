#pragma once
#include <filesystem>
#include <functional>
#include <memory>
#include <string>

#include "core/base/moment.h"
#include "core/scene/describe.h"
#include "core/sound/sound.h"

namespace gswarm {

/// What kinds of sound may ask for. Calls throw Error with a sentence where a file is missing or damaged.
struct SoundSource {
    Moment moment;  ///< of which only the loop and the rate matter: a sound is there as a whole
    std::filesystem::path projectFolder;
    /// Hash of what is in a file.
    std::function<std::uint64_t(const std::filesystem::path&)> contentOf;
    /// What a file has, and one of its pieces; both are kept.
    std::function<std::shared_ptr<const SoundFacts>(const std::filesystem::path&)> facts;
    std::function<std::shared_ptr<const SoundPiece>(const std::filesystem::path&, std::int64_t)> piece;
};

struct SoundKind : Kind {
    /// Throws Error where there is nothing to hear.
    std::function<Sound(const void*, const SoundSource&)> sound;
    /// One sentence on what there is, behind its length. Throws Error as `sound` does.
    std::function<std::string(const void*, const SoundSource&)> told;
};

template <class T>
struct DescribeSound : Describe<T, SoundKind> {
    DescribeSound(std::string id, std::string label, std::string summary)
        : Describe<T, SoundKind>(Family::sound, std::move(id), std::move(label), std::move(summary)) {}
};

template <class T>
SoundKind sounds(Describe<T, SoundKind>& described, Sound (*sound)(const T&, const SoundSource&),
                 std::string (*told)(const T&, const SoundSource&)) {
    SoundKind kind = described.kind();
    kind.sound = [sound](const void* data, const SoundSource& source) { return sound(*static_cast<const T*>(data), source); };
    kind.told = [told](const void* data, const SoundSource& source) { return told(*static_cast<const T*>(data), source); };
    return kind;
}

extern const SoundKind fileSound, simulatedMicrophoneSound;

}  // namespace gswarm
