#pragma once
#include <functional>
#include <QFrame>
#include <vector>

class QLineEdit;
class QListWidget;

/// Find or do anything: type parts of words, Enter does it. What begins like the words stands before what holds them, that
/// before what is found by a word people also use for it, and that before what only its hint tells; among equals what was done
/// last comes first.
class Finder : public QFrame {
    Q_OBJECT

  public:
    struct Item {
        QString id;           ///< by which it is known again as done before
        QString label, hint;  ///< the hint stands quietly at the right: a shortcut, what it is, or what it does
        QString words;        ///< plain trade words by which it is found too, never shown
        std::function<void()> act;
    };
    /// How well an item answers: 0 is best; −1 where it does not hold every word.
    static int rankOf(const Item& item, const QStringList& words);

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
