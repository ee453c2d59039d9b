#include "core/provide/sounds.h"

#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/provide/naming.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/sound/sound_kind.h"

namespace gswarm {
namespace {

SoundSource soundSourceAt(const Scene& scene, double frame, const std::filesystem::path& projectFolder, Store& store) {
    SoundSource source;
    source.moment = momentAt(scene, frame);
    source.projectFolder = projectFolder;
    source.contentOf = [&store](const std::filesystem::path& file) { return store.fileHashes().of(file).hash; };
    source.facts = [&store](const std::filesystem::path& file) {
        const std::uint64_t content = store.fileHashes().of(file).hash;
        return store.get<SoundFacts>(
            keyOf("sound facts", content), [&] { return std::make_shared<const SoundFacts>(store.decoders().soundFacts(file, content)); },
            [](const SoundFacts& facts) { return sizeof facts; });
    };
    source.piece = [&store](const std::filesystem::path& file, std::int64_t number) {
        return std::make_shared<const SoundPiece>(store.decoders().soundPiece(file, store.fileHashes().of(file).hash, number));
    };
    return source;
}

/// The sound of an object, its pieces kept.
Sound soundOf(const Scene& scene, ObjectId id, double frame, const std::filesystem::path& projectFolder, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(id).part("sound"), frame);
    Sound sound = static_cast<const SoundKind&>(*part.kind).sound(part.data.get(), soundSourceAt(scene, frame, projectFolder, store));
    sound.piece = [made = sound.piece, key = sound.key, name = scene.at(id).name, &store](std::int64_t number) {
        return named(name, [&] {
            return store.get<SoundPiece>(
                keyOf("sound piece", key, static_cast<std::uint64_t>(number)), [&] { return made(number); },
                [](const SoundPiece& piece) { return piece.bytes(); });
        });
    };
    return sound;
}

}  // namespace

AskedSound askSound(const Scene& scene, ObjectId id, double frame, const std::filesystem::path& projectFolder, Store& store) {
    const std::string name = scene.at(id).name;
    return named(name, [&] {
        AskedSound asked;
        asked.sound = soundOf(scene, id, frame, projectFolder, store);
        asked.laid = resolve(scene, scene.at(id).part("laid"), frame).as<SoundLaid>();
        const SoundPart part = partOf(asked.laid, asked.sound);
        const double rate = momentAt(scene, frame).rate;
        ContentHash key;
        key.add("sound analysis");
        key.add(asked.sound.key);
        for (const std::int64_t number : {part.first, part.length, std::int64_t{part.repeats}}) key.add(static_cast<std::uint64_t>(number));
        key.add(rate);
        asked.key = key.value();
        asked.analysis = [sound = asked.sound, part, rate, name, key = asked.key, &store](Progress* progress) {
            return named(name, [&] {
                return store.get<SoundAnalysis>(
                    key,
                    [&] {
                        if (progress) progress->say(name + ": listening through it");
                        return std::make_shared<const SoundAnalysis>(analyse(sound, part, rate, progress));
                    },
                    [](const SoundAnalysis& analysis) { return analysis.bytes(); });
            });
        };
        return asked;
    });
}

std::string soundTold(const Scene& scene, ObjectId id, const std::filesystem::path& projectFolder, Store& store) {
    try {
        const ResolvedPart part = resolve(scene, scene.at(id).part("sound"), 0);
        const auto& kind = static_cast<const SoundKind&>(*part.kind);
        const SoundSource source = soundSourceAt(scene, 0, projectFolder, store);
        const double seconds = kind.sound(part.data.get(), source).facts.seconds();
        return shortNumber(std::round(seconds * 100) / 100) + " s. " + kind.told(part.data.get(), source);
    } catch (const Error& error) {
        return error.what();
    }
}

}  // namespace gswarm
