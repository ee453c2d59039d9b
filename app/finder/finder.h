#pragma once
#include <functional>
#include <QFrame>
#include <vector>

class QLineEdit;
class QListWidget;

/// Find or do anything: type a part of a name, Enter does it. What begins like the words stands before what holds them, and
/// that before what only its hint tells.
class Finder : public QFrame {
    Q_OBJECT

  public:
    struct Item {
        QString label, hint;  ///< the hint stands quietly at the right: a shortcut, or what it does
        std::function<void()> act;
    };
    explicit Finder(QWidget* parent);
    /// Opens under the given place with everything that can be found now.
    void open(std::vector<Item> items, const QPoint& global);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void filter();
    void act();

    QLineEdit* line_;
    QListWidget* list_;
    std::vector<Item> items_;
};
