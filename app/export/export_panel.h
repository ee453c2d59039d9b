#pragma once
#include <memory>
#include <QTimer>
#include <QWidget>
#include <thread>

#include "core/base/progress.h"
#include "core/exchange/export.h"

class Document;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QSpinBox;
class QFormLayout;

/// What goes out: pictures, glTF, tables. Works on a snapshot on a thread of its own, with progress and cancel.
class ExportPanel : public QWidget {
    Q_OBJECT

  public:
    ExportPanel(Document& document, QWidget* parent);
    ~ExportPanel() override;
    bool running() const { return static_cast<bool>(progress_); }

  signals:
    /// Ended: what was written, or what went wrong.
    void ended(bool fine, const QString& sentence);

  private:
    void showFitting();
    /// The whole project, as long as nothing else was typed.
    void showFrames();
    void browse();
    void start();
    void finish(bool fine, const QString& sentence);
    void tick();
    QString suggestedName() const;

    Document& document_;
    QComboBox* format_;
    QSpinBox *width_, *height_, *samples_, *first_, *last_;
    QWidget* frames_;             ///< the row of the first and the last frame
    gswarm::FrameRange project_;  ///< the project's own, as it was shown last
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
