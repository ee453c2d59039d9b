#include "app/document/recording.h"

#include "app/document/document.h"
#include "core/base/error.h"
#include "core/edit/import_edits.h"
#include "core/exchange/record_media.h"
#include "core/exchange/record_sound.h"
#include "core/media/media_kind.h"
#include "core/provide/bring_in.h"
#include "core/provide/store.h"
#include "core/scene/address.h"
#include "core/sound/sound_kind.h"

using namespace gswarm;

namespace {

bool isSound(ObjectId recorded) { return recorded.type() == ObjectType::sound; }

}  // namespace

Recording* Recording::of(const Document& document) { return document.findChild<Recording*>(QString(), Qt::FindDirectChildrenOnly); }

Recording::Recording(Document& document, ObjectId recorded) : QObject(&document), document_(document), recorded_(recorded) {
    const std::filesystem::path folder = document.folder();
    std::error_code failed;
    std::filesystem::create_directories(folder, failed);
    path_ = freeRecording(folder, document.scene().at(recorded).name, isSound(recorded) ? ".flac" : ".mp4");
    thread_ = std::thread([this, scene = document.scene(), folder, most = document.store().mostPictureBytes()] {
        // Its own: that of the document may be gone before this is told to end.
        Store store;
        store.limitPictures(most);
        QString trouble;
        bool whole = false;
        try {
            (isSound(recorded_) ? recordSound : recordMedia)(scene, recorded_, framesOf(scene), folder, store, path_, progress_);
            whole = true;
        } catch (const Error& error) {
            trouble = QString::fromUtf8(error.what());
        } catch (const Cancelled&) {
            whole = false;
        }
        QMetaObject::invokeMethod(
            this, [this, trouble, whole] { finish(trouble, whole); }, Qt::QueuedConnection);
    });
}

Recording::~Recording() {
    progress_.cancel();
    if (thread_.joinable()) thread_.join();
}

void Recording::finish(const QString& trouble, bool whole) {
    setParent(nullptr);
    if (!trouble.isEmpty()) emit document_.trouble(trouble);
    if (const auto inside = whole ? pathWithin(path_, document_.folder()) : std::nullopt) {
        document_.seal();
        document_.choose(document_.edit([&](const Scene& scene) {
            if (!isSound(recorded_)) return importMedia(scene, clipMedia, *inside);
            Edit edit = importSound(scene, fileSound, *inside);
            edit.scene =
                setValue(edit.scene, addressOf(edit.scene, edit.made, "laid-start"), fixedNumbers({double(framesOf(scene).first)})).scene;
            return edit;
        }));
        document_.seal();
    }
    deleteLater();
}
