#pragma once
#include <QFrame>

class QLabel;
class QTableWidget;
class Shortcuts;

/// All shortcuts on one page: each can be typed anew; keys that another command has are refused with its name.
class ShortcutList : public QFrame {
    Q_OBJECT

  public:
    ShortcutList(Shortcuts& shortcuts, QWidget* parent);
    void open(const QPoint& global);

  private:
    void fill();

    Shortcuts& shortcuts_;
    QTableWidget* table_;
    QLabel* said_;
};
