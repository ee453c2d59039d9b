// Sound out of a file, which a program of its own decodes.
#include "core/base/content_hash.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/base/text.h"
#include "core/sound/sound_kind.h"

namespace gswarm {
namespace {

struct SoundFile {
    std::string file;
};

std::filesystem::path fileOf(const SoundFile& sound, const SoundSource& source) {
    if (sound.file.empty()) throw Error("It has no file yet; choose a sound in the project's folder.");
    return pathInProject(sound.file, source.projectFolder);
}

Sound sound(const SoundFile& of, const SoundSource& source) {
    const auto file = fileOf(of, source);
    ContentHash key;
    key.add("sound file");
    key.add(source.contentOf(file));
    return {key.value(), *source.facts(file), false, [file, piece = source.piece](std::int64_t number) { return piece(file, number); }};
}

std::string told(const SoundFile& of, const SoundSource& source) {
    const auto facts = source.facts(fileOf(of, source));
    const std::string sides = facts->fileChannels == 1   ? "mono"
                              : facts->fileChannels == 2 ? "stereo"
                                                         : std::to_string(facts->fileChannels) + " channels, heard as two";
    return facts->format + ", " + grouped(facts->fileRate) + " samples a second, " + sides + ".";
}

}  // namespace

const SoundKind fileSound = sounds(DescribeSound<SoundFile>("file", "Sound file", "Music, speech or noises out of a file")
                                       .found("audio music song track wav flac ogg mp3 wave speech beat")
                                       .file("file", &SoundFile::file, {".wav", ".flac", ".ogg", ".oga", ".opus", ".mp3", ".aif", ".aiff"},
                                             "A sound in the project's folder"),
                                   sound, told);

}  // namespace gswarm
