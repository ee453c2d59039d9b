#pragma once
#include <functional>
#include <QFrame>

class QLabel;
class QPushButton;

/// The one line in which the window says what went wrong or asks before it goes on. It lies over the lower part of the
/// stage, so that no panel moves when it comes or goes.
class Line : public QFrame {
    Q_OBJECT

  public:
    explicit Line(QWidget* stage);

    /// One sentence; empty takes it away. A question stays until it is answered.
    void tell(const QString& sentence);
    void ask(const QString& sentence, const QString& yes, const std::function<void()>& onYes, const QString& no,
             const std::function<void()>& onNo);
    /// Takes a sentence away, but no question.
    void dismiss();

  protected:
    bool eventFilter(QObject* stage, QEvent* event) override;

  private:
    void appear();
    void answer(const std::function<void()>& act);

    QLabel* text_;
    QPushButton *yes_, *no_;
    std::function<void()> onYes_, onNo_;
    bool asks_ = false;
};
