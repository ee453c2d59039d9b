#pragma once
#include <QFrame>

class Document;
class Evaluation;
class QLabel;
class QPushButton;

/// At the top of the picture: that what is seen is not all, or not now. A rehearsal names how many instances are worked
/// on and the cards that need the whole; a kept version says so while it is compared.
class Banner : public QFrame {
    Q_OBJECT

  public:
    Banner(Document& document, Evaluation& evaluation, QWidget* parent);

  signals:
    void resized();

  private:
    void refresh();

    Document& document_;
    Evaluation& evaluation_;
    QLabel* text_;
    QPushButton* all_;
};
