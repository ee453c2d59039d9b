#pragma once
#include <functional>
#include <QFrame>
#include <QPointer>
#include <QTimer>
#include <vector>

class QLabel;
class QPushButton;

/// A walk through the real window in a few steps: a card says what to do, a gold line shows where, and the step is over once it
/// has been done, however.
class Walk : public QFrame {
    Q_OBJECT

  public:
    struct Step {
        QString title, text;
        std::function<QWidget*()> where;  ///< null where there is nothing to show
        std::function<bool()> done;
    };
    Walk(std::vector<Step> steps, QWidget* window);
    void start();
    bool walking() const { return at_ >= 0; }
    int step() const { return at_; }

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void look();
    void showStep();
    void leave();
    void place();

    std::vector<Step> steps_;
    QLabel *title_, *text_;
    QPushButton *skip_, *leave_;
    QFrame* mark_;
    QTimer timer_;
    int at_ = -1;
};
