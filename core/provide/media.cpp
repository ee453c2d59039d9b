#include "core/provide/media.h"

#include "core/base/error.h"
#include "core/media/media_kind.h"
#include "core/provide/read_picture.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

MediaSource sourceAt(const Scene& scene, double frame, const std::filesystem::path& projectFolder, Store& store) {
    return {momentAt(scene, frame), projectFolder,
            [](const std::filesystem::path& file, PictureAs as) { return readPictureFile(file, as); },
            [&store](const std::filesystem::path& file) { return store.fileHashes().of(file).hash; }};
}

}  // namespace

std::shared_ptr<const MediaFrame> mediaAt(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder,
                                          Store& store, ContentHash* hash) {
    const ResolvedPart part = resolve(scene, scene.at(media).part("media"), frame);
    const auto& kind = static_cast<const MediaKind&>(*part.kind);
    try {
        const MediaShown shown = kind.shown(part.data.get(), sourceAt(scene, frame, projectFolder, store));
        if (hash) hash->add(shown.key);
        const std::function<std::shared_ptr<const MediaFrame>()> make = [&] {
            MediaFrame made = shown.make();
            made.key = shown.key;
            made.moves = kind.moves(part.data.get());
            return std::make_shared<const MediaFrame>(std::move(made));
        };
        return store.get<MediaFrame>(shown.key, make, [](const MediaFrame& f) { return f.bytes(); });
    } catch (const Error& error) {
        throw Error("“" + scene.at(media).name + "”: " + error.what());
    }
}

std::string mediaTold(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(media).part("media"), frame);
    try {
        const auto& kind = static_cast<const MediaKind&>(*part.kind);
        std::string told = kind.told(part.data.get(), sourceAt(scene, frame, projectFolder, store));
        const auto shown = mediaAt(scene, media, frame, projectFolder, store, nullptr);
        return std::to_string(shown->width) + " × " + std::to_string(shown->height) + " pixels. " + told;
    } catch (const Error& error) {
        return error.what();
    }
}

}  // namespace gswarm
