#pragma once
#include <optional>
#include <QWidget>
#include <vector>

/// What a rail card shows.
struct CardState {
    QString icon, name, count, tip;
    std::vector<float> strip;  ///< weights of evenly chosen instances in order; empty draws none
    bool chosen = false, on = true, hasSwitch = false, solo = false, trouble = false;
    QString button;                  ///< what the coral button at its right offers: Why? where nothing of it is ever seen; empty for none
    int swarms = 1;                  ///< that share it
    bool wantsWhole = false;         ///< looks different in a rehearsal
    QString cut;                     ///< what share of the values a clip cuts; empty for none
    std::optional<double> strength;  ///< none of a card that has none
    QString added, value;            ///< of one instance, in place of strip and count; empty unless it is tallied
};

/// One card of the rail. It paints its state and tells what was asked of it; it decides nothing.
class RailCard : public QWidget {
    Q_OBJECT

  public:
    RailCard(int index, QWidget* parent);
    void show(const CardState& state);
    const CardState& state() const { return state_; }
    int index() const { return index_; }

  signals:
    void chosen();
    void switched(bool on);
    void whyAsked();
    void buttonPressed();
    void soloAsked();
    void strengthAsked(double strength);  ///< 1 is the whole
    void strengthDone();
    void menuAsked(const QPoint& global);
    void renameAsked();
    void dropped(int globalX);
    void stepped(int direction);  ///< arrow keys; with Alt held: move the card
    void moveAsked(int direction);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    QRectF switchRect() const;
    QRectF buttonRect() const;
    QRectF strengthRect() const;
    void paintHead(QPainter& painter) const;
    void paintWeights(QPainter& painter) const;
    void paintCount(QPainter& painter, const QRectF& line) const;
    void paintTally(QPainter& painter) const;
    void paintStrength(QPainter& painter) const;

    int index_;
    CardState state_;
    QPoint pressed_;
    bool dragging_ = false;
    bool turning_ = false;  ///< the strength is being dragged
    bool overStrength_ = false;
};
