#pragma once
#include <array>
#include <functional>
#include <QFrame>
#include <QTimer>
#include <vector>

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
    /// One sentence about what was done: nothing is wrong, and it goes by itself.
    void say(const QString& sentence);
    /// One of up to three answers; the first has the focus. An answer that does nothing leaves everything as it is.
    struct Answer {
        QString text;
        std::function<void()> act;
    };
    void ask(const QString& sentence, const std::vector<Answer>& answers);
    /// Takes a sentence away, but no question.
    void dismiss();

  protected:
    bool eventFilter(QObject* stage, QEvent* event) override;

  private:
    void put(const QString& sentence, const char* style);
    void appear();
    void answer(std::size_t which);

    QLabel* text_;
    std::array<QPushButton*, 3> buttons_;
    std::vector<Answer> answers_;
    bool asks_ = false;
    QTimer passing_;  ///< what was said goes by itself
};
