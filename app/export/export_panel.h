#pragma once
#include <map>
#include <memory>
#include <optional>
#include <QTimer>
#include <QWidget>
#include <thread>

#include "core/base/progress.h"
#include "core/exchange/exporter_kind.h"

class Document;
class NumberField;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QFormLayout;

/// What goes out: pictures, glTF, tables. Works on a snapshot on a thread of its own, with progress and cancel.
class ExportPanel : public QWidget {
    Q_OBJECT

  public:
    /// Chooses what is written.
    void take(const gswarm::ExporterKind& kind);
    ExportPanel(Document& document, QWidget* parent);
    ~ExportPanel() override;
    bool running() const { return static_cast<bool>(progress_); }

  signals:
    /// Ended: what was written, or what went wrong.
    void ended(bool fine, const QString& sentence);

  private:
    NumberField* number(const gswarm::Parameter& parameter, QWidget* parent);
    void addSetting(const gswarm::Parameter& parameter);
    void addRow(const gswarm::Parameter& parameter, QWidget* field);
    gswarm::Value typed(const std::string& id) const;
    const gswarm::ExporterKind& kind() const;
    void showFitting();
    void showFrames();
    void browse();
    void start();
    void finish(bool fine, const QString& sentence);
    void tick();
    void tell(const QString& sentence, bool fine);
    QString suggestedName() const;

    Document& document_;
    QComboBox* format_;
    std::map<std::string, QWidget*> settings_;  ///< of all exporters, by their ids
    NumberField *first_, *last_;
    QWidget* frames_;                            ///< the row of the first and the last frame
    std::optional<gswarm::FrameRange> project_;  ///< the project's own, as it was shown last
    QLineEdit* path_;
    QPushButton *start_, *cancel_;
    QProgressBar* bar_;
    QLabel* said_;
    QFormLayout* form_;
    QTimer timer_;
    qint64 began_ = 0;
    std::shared_ptr<gswarm::Progress> progress_;
    std::thread thread_;
};
