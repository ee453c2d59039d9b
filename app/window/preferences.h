#pragma once
#include <QFrame>
#include <QTimer>

class Evaluation;
class NumberField;
class QLabel;
class QVBoxLayout;
namespace gswarm {
struct Parameter;
}

/// What holds for every project on this machine, in a small panel under the top bar. Changes hold at once.
class Preferences : public QFrame {
    Q_OBJECT

  public:
    static constexpr int wide = 340;  ///< pixels

    Preferences(Evaluation& evaluation, QWidget* parent);
    void open(const QPoint& at);

  signals:
    void panelsAsked();  ///< the panels are wanted where they were at first

  protected:
    void showEvent(QShowEvent*) override { timer_.start(); }
    void hideEvent(QHideEvent*) override { timer_.stop(); }

  private:
    void refresh();
    NumberField* addNumber(QVBoxLayout* column, const gswarm::Parameter& parameter, const char* name);

    Evaluation& evaluation_;
    NumberField *memory_, *pictures_;
    QLabel* used_;
    QTimer timer_;
};
