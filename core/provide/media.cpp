#include "core/provide/media.h"

#include "core/base/error.h"
#include "core/media/media_kind.h"
#include "core/provide/naming.h"
#include "core/provide/read_picture.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

MediaSource sourceAt(const Scene& scene, double frame, const std::filesystem::path& projectFolder, Store& store) {
    MediaSource source;
    source.moment = momentAt(scene, frame);
    source.projectFolder = projectFolder;
    source.read = [&store](const std::filesystem::path& file, PictureAs as) {
        return readStoredPictureFile(file, as, store.mostPictureBytes());
    };
    source.contentOf = [&store](const std::filesystem::path& file) { return store.fileHashes().of(file).hash; };
    source.clip = [&store](const std::filesystem::path& file) {
        const std::uint64_t content = store.fileHashes().of(file).hash;
        return store.get<ClipFacts>(
            keyOf("clip facts", content), [&] { return std::make_shared<const ClipFacts>(store.decoders().clipFacts(file, content)); },
            [](const ClipFacts& facts) { return sizeof facts + facts.begins.size() * sizeof(double); });
    };
    source.clipPicture = [&store](const std::filesystem::path& file, std::int64_t number) {
        const std::uint64_t content = store.fileHashes().of(file).hash;
        return store.get<ClipPicture>(
            keyOf("clip picture", content, static_cast<std::uint64_t>(number)),
            [&] { return std::make_shared<const ClipPicture>(store.decoders().picture(file, content, number)); },
            [](const ClipPicture& picture) { return sizeof picture + picture.bytes.size(); });
    };
    return source;
}

}  // namespace

AskedMedia askMedia(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(media).part("media"), frame);
    const auto& kind = static_cast<const MediaKind&>(*part.kind);
    const std::string name = scene.at(media).name;
    const MediaShown shown = named(name, [&] { return kind.shown(part.data.get(), sourceAt(scene, frame, projectFolder, store)); });
    const bool moves = kind.moves(part.data.get());
    return {shown.key, moves, [shown, name, moves, &store] {
                const std::function<std::shared_ptr<const MediaFrame>()> make = [&] {
                    MediaFrame made = named(name, shown.make);
                    made.key = shown.key;
                    made.moves = moves;
                    return std::make_shared<const MediaFrame>(std::move(made));
                };
                return shown.kept ? store.get<MediaFrame>(shown.key, make, [](const MediaFrame& f) { return f.bytes(); }) : make();
            }};
}

std::shared_ptr<const MediaFrame> mediaAt(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder,
                                          Store& store) {
    return askMedia(scene, media, frame, projectFolder, store).frame();
}

std::string mediaTold(const Scene& scene, ObjectId media, double frame, const std::filesystem::path& projectFolder, Store& store) {
    const ResolvedPart part = resolve(scene, scene.at(media).part("media"), frame);
    try {
        const auto& kind = static_cast<const MediaKind&>(*part.kind);
        std::string told = kind.told(part.data.get(), sourceAt(scene, frame, projectFolder, store));
        const auto shown = mediaAt(scene, media, frame, projectFolder, store);
        return std::to_string(shown->width()) + " × " + std::to_string(shown->height()) + " pixels. " + told;
    } catch (const Error& error) {
        return error.what();
    }
}

}  // namespace gswarm
