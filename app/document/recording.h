#pragma once
#include <filesystem>
#include <QObject>
#include <QString>
#include <thread>

#include "core/base/progress.h"
#include "core/scene/object_id.h"

class Document;

/// A file that is being made of media or of a sound, beside the window: all frames of the project, into its folder. Once it is there it
/// becomes a clip or a sound of the project, and is chosen; in the window's thread, just before this is gone. Belongs to the document,
/// which has one at a time; cancelled with it.
class Recording : public QObject {
    Q_OBJECT

  public:
    /// The one that is under way; null for none.
    static Recording* of(const Document& document);
    Recording(Document& document, gswarm::ObjectId recorded);
    ~Recording() override;

    double fraction() const { return progress_.fraction(); }
    void cancel() { progress_.cancel(); }

  private:
    void finish(const QString& trouble, bool whole);

    Document& document_;
    gswarm::ObjectId recorded_;
    std::filesystem::path path_;
    gswarm::Progress progress_;
    std::thread thread_;
};
