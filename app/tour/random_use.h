#pragma once
#include <deque>
#include <QObject>
#include <QPoint>
#include <QStringList>
#include <random>

#include "core/scene/scene.h"

class MainWindow;
class QWidget;

/// A restless hand at the real window: clicks, drags, keys and typed values, leaning toward edits, undo and redo, kinds that
/// change under open panels and things that are deleted while they are shown. Every action is a line of text; the same
/// lines can be done again. It acts on a timer, so that it goes on inside menus and dialogs.
class RandomUse : public QObject {
    Q_OBJECT

  public:
    /// `copy` is where the project is saved now and then. No other file is ever touched: dialogs for files, which can also
    /// delete and rename what they show, are left before anything is done in them, and what is opened from elsewhere
    /// becomes the copy.
    RandomUse(MainWindow& window, unsigned seed, const QString& copy);
    /// Does these instead of new ones.
    void replay(const QStringList& lines);
    void start(int actions);

    const QStringList& done() const { return done_; }
    int saves() const { return saves_; }
    bool eventFilter(QObject* watched, QEvent* event) override;
    /// What went wrong, one sentence each: projects that don't open again, undo that does not come back.
    const QStringList& problems() const { return problems_; }

  signals:
    void finished();

  private:
    void act();
    void soon();
    QString next();
    void perform(const QString& line);
    void click(QWidget* target, QPoint at, Qt::MouseButton button, bool twice);
    void edit(int which);
    void saveAndCompare();
    void undoAll();
    QWidget* surface() const;
    QPoint somewhere();
    int below(int n) { return static_cast<int>(dice_() % static_cast<unsigned>(n)); }

    MainWindow& window_;
    std::mt19937 dice_;
    QString copy_;
    std::deque<QString> lines_;
    QStringList done_, problems_;
    gswarm::Scene first_;  ///< with which the undo history begins
    int left_ = 0, depth_ = 0, saves_ = 0;
    bool replaying_ = false;
};
