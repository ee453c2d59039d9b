#pragma once
#include <functional>
#include <QWidget>

#include "app/export/export_job.h"
#include "app/export/export_presets.h"

class Document;
class ExportKinds;
class ExportMeasure;
class ExportQueue;
class ExportScope;
class ExportSettings;
class QFormLayout;
class QImage;
class QLabel;
class QLineEdit;
class QPushButton;

/// The settings of what is written, one sentence that says what that will be, what it takes, and the button that puts it into the queue.
class ExportPanel : public QWidget {
    Q_OBJECT

  public:
    ExportPanel(Document& document, ExportKinds& kinds, ExportQueue& queue, QWidget* parent);
    /// Gives the small picture of a job; none at first.
    void setPicture(std::function<QImage()> picture) { picture_ = std::move(picture); }

  signals:
    /// Ended: what was written, or what went wrong.
    void ended(bool fine, const QString& sentence);

  protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    void build();
    void buildBelow(QLayout* whole);
    void showKinds();
    void showRows();
    void nameAnew();
    /// One for each format, of the scene as it is.
    std::vector<ExportJob> jobs() const;
    std::filesystem::path fileOf(const gswarm::ExporterKind& kind) const;
    void saySoFar();
    QString sentence() const;
    void measure();
    void browse();
    void start();
    void takePreset(const ExportPreset& preset);
    void keep(ExportPreset preset);
    void tell(const QString& sentence, bool fine);

    Document& document_;
    ExportKinds& kinds_;
    ExportQueue& queue_;
    std::function<QImage()> picture_;
    ExportSettings* settings_;
    ExportScope* scope_;
    ExportMeasure* measure_;
    QFormLayout* form_;
    QLabel *title_, *writes_, *cost_, *said_;
    QLineEdit* path_;
    QPushButton *start_, *keep_;
    bool named_ = false;  ///< the file was called by the person
};
