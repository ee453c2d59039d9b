#pragma once
#include <filesystem>
#include <functional>
#include <string>

#include "core/base/float_picture.h"
#include "core/base/moment.h"
#include "core/media/clip_facts.h"
#include "core/media/media_frame.h"
#include "core/scene/describe.h"

namespace gswarm {

/// What kinds of media may ask for. Calls throw Error with a sentence where a file is missing or damaged.
struct MediaSource {
    Moment moment;
    std::filesystem::path projectFolder;
    /// A picture of a file; what whole numbers of more than 8 bits are is said.
    std::function<StoredPicture(const std::filesystem::path&, PictureAs)> read;
    /// Hash of what is in a file.
    std::function<std::uint64_t(const std::filesystem::path&)> contentOf;
    /// What a clip has, and one of its pictures by its number; both are kept.
    std::function<std::shared_ptr<const ClipFacts>(const std::filesystem::path&)> clip;
    std::function<std::shared_ptr<const ClipPicture>(const std::filesystem::path&, std::int64_t)> clipPicture;
};

/// What is shown at the source's moment: under a key of all that it depends on, and not made before it is asked for.
struct MediaShown {
    std::uint64_t key = 0;
    std::function<MediaFrame()> make;
    bool kept = true;  ///< worth its memory, since making it again takes long
};

struct MediaKind : Kind {
    /// Throws Error where there is nothing to show.
    std::function<MediaShown(const void*, const MediaSource&)> shown;
    /// Whether it shows something else at other moments.
    std::function<bool(const void*)> moves;
    /// One sentence on what there is: how many pictures, at which rate. Throws Error as `shown` does.
    std::function<std::string(const void*, const MediaSource&)> told;
};

template <class T>
struct DescribeMedia : Describe<T, MediaKind> {
    DescribeMedia(std::string id, std::string label, std::string summary)
        : Describe<T, MediaKind>(Family::media, std::move(id), std::move(label), std::move(summary)) {}
};

template <class T>
MediaKind shows(Describe<T, MediaKind>& described, MediaShown (*shown)(const T&, const MediaSource&), bool (*moves)(const T&),
                std::string (*told)(const T&, const MediaSource&)) {
    MediaKind kind = described.kind();
    kind.shown = [shown](const void* data, const MediaSource& source) { return shown(*static_cast<const T*>(data), source); };
    kind.moves = [moves](const void* data) { return moves(*static_cast<const T*>(data)); };
    kind.told = [told](const void* data, const MediaSource& source) { return told(*static_cast<const T*>(data), source); };
    return kind;
}

/// What is seen before the first picture and after the last.
enum class MediaBeyond { hold, repeat, backAndForth };
inline std::vector<Choice> mediaBeyonds() { return {{"hold", "Holds"}, {"repeat", "Repeats"}, {"backAndForth", "Goes back and forth"}}; }

/// What the colours of a file are, as the person may say.
inline std::vector<Choice> pictureColours() { return {{"light", "Light (sRGB)"}, {"numbers", "Plain numbers"}}; }
/// The picture of a file, `moves` where it is one of several.
MediaShown shownOfFile(const MediaSource& source, const std::filesystem::path& file, PictureAs colours, bool moves);

extern const MediaKind clipMedia, pictureMedia, picturesMedia, simulatedCameraMedia;

}  // namespace gswarm
