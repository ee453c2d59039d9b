#pragma once
#include <map>
#include <optional>
#include <QWidget>

#include "core/exchange/exporter_kind.h"

class Document;
class ExportKinds;
class ExportQueue;
class NumberField;
class QFormLayout;
class QImage;
class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;

/// The settings of what is written, one sentence that says what that will be, and the button that puts it into the queue.
class ExportPanel : public QWidget {
    Q_OBJECT

  public:
    ExportPanel(Document& document, ExportKinds& kinds, ExportQueue& queue, QWidget* parent);
    /// Gives the small picture of a job; none at first.
    void setPicture(std::function<QImage()> picture) { picture_ = std::move(picture); }

  signals:
    /// Ended: what was written, or what went wrong.
    void ended(bool fine, const QString& sentence);

  private:
    NumberField* number(const gswarm::Parameter& parameter, QWidget* parent);
    void addSetting(const gswarm::Parameter& parameter);
    QWidget* fieldFor(const gswarm::Parameter& parameter);
    void addRow(const gswarm::Parameter& parameter, QWidget* field);
    void followProject(const gswarm::Parameter& parameter, NumberField* field);
    gswarm::Value typed(const gswarm::Parameter& parameter) const;
    gswarm::Part settings() const;
    gswarm::FrameRange range() const;
    const gswarm::ExporterKind& kind() const;
    void showFitting();
    void showConditions();
    void showFrames();
    void saySoFar();
    void browse();
    void start();
    void tell(const QString& sentence, bool fine);
    QString suggestedName() const;

    Document& document_;
    ExportKinds& kinds_;
    ExportQueue& queue_;
    std::function<QImage()> picture_;
    QLabel* title_;
    std::map<std::string, QWidget*> settings_;  ///< of all exporters, by their ids
    NumberField *first_, *last_, *every_;
    QWidget* frames_;                            ///< the row of the first and the last frame
    std::optional<gswarm::FrameRange> project_;  ///< the project's own, as it was shown last
    QLineEdit* path_;
    QPushButton* start_;
    QLabel *writes_, *said_;
    QFormLayout* form_;
};
