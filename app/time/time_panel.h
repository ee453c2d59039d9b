#pragma once
#include <QWidget>

#include "app/document/document.h"

class CurveView;
class Evaluation;
class LoopPanel;
class LedgerPanel;
class Play;
class SoundPlayer;
class SoundWaves;
class QHBoxLayout;
class QLabel;
class QScrollArea;
class QToolButton;
class TimeRows;

/// Transport above the ruler and the rows.
class TimePanel : public QWidget {
    Q_OBJECT

  public:
    TimePanel(Document& document, Evaluation& evaluation, Play& play, SoundPlayer& sound, QWidget* parent);
    TimeRows* rows() const { return rows_; }
    /// What the view says of its own speed, told beside that of the evaluation.
    void setViewNote(const QString& sentence) { viewNote_ = sentence; }
    /// The ledger in place of the rows, under the ruler with its playhead.
    void showLedger(bool on);
    bool showsLedger() const;
    /// The curves of an object in place of the rows; of what is chosen for the empty id.
    void showCurves(bool on, gswarm::ObjectId object = {});
    SoundWaves* waves() const { return waves_; }
    CurveView* curves() const { return curves_; }

    /// Something in place of what stands right of the transport: speed, loop, curves and ledger; null for these.
    void setAside(QWidget* other);
    /// The least height that what is shown now needs, pixels.
    int heightWanted() const;

  signals:
    void roomWanted();  ///< something else is shown, which may need another height

  private:
    void refresh();
    void resizeEvent(QResizeEvent*) override;
    void refreshLoop();
    void refreshHead();
    void showInstead(QWidget* panel);
    QString late() const;
    QToolButton* button(const char* icon, const QString& tip);

    Document& document_;
    Evaluation& evaluation_;
    Play& play_;
    SoundPlayer& sound_;
    SoundWaves* waves_;
    TimeRows* rows_;
    QScrollArea* scroll_;
    LedgerPanel* ledger_;
    CurveView* curves_;
    LoopPanel* loop_;
    QToolButton *play_button_, *project_, *list_, *mode_, *record_, *speaker_, *curvesButton_, *ring_;
    QLabel *range_, *speed_;
    QString viewNote_;
    QWidget* aside_ = nullptr;
    QHBoxLayout* transport_;
};
