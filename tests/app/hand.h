#pragma once
#include <functional>
#include <memory>
#include <QPointF>
#include <QString>

#include "app/window/main_window.h"

class NumberField;
class QAbstractButton;
class QComboBox;
class QMimeData;
class QPlainTextEdit;

/// The demo most tests begin with.
inline const QString tidalFloor = GSWARM_SOURCE "/demo/tidal-floor.gswarm";

/// A person at the window: finds things by their names and uses mouse and keyboard on them.
class Hand {
  public:
    Hand();
    ~Hand();

    MainWindow& window() { return *window_; }
    const gswarm::Scene& scene() { return window_->document().scene(); }

    /// The last result of the swarm that is looked at; null if there is none.
    std::shared_ptr<const gswarm::Result> result() { return window_->evaluation().resultOf(window_->document().swarm()); }

    void settle();
    /// Whether something becomes true within ten seconds: for what is computed beside the picture.
    bool eventually(const std::function<bool()>& is);
    /// Clicks the middle of the widget of that name, wherever it is.
    void click(const QString& name);
    void click(QWidget* widget, QPoint at, Qt::MouseButton button = Qt::LeftButton);
    void key(int key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    /// Types into the number field `component` of a parameter's row and presses Enter.
    void typeNumber(const QString& row, const QString& text, int component = 0);
    /// Writes a formula over what is there and leaves what is offered.
    void typeFormula(QPlainTextEdit* editor, const QString& text);
    void choose(const QString& box, const QString& label);
    /// Opens the pictures of formations and clicks the one with that id.
    void pickFormation(const QString& id);
    /// Adds a gesture from the gallery under the (+).
    void addGesture(const QString& id);
    /// Answers the next popup menu: the entry whose text begins with `start`; with "A > B" the entry B of the menu A.
    /// An entry that is still being worked out is waited for, `patience` times 150 ms.
    static void answerMenu(const QString& start, int patience = 0);
    void drag(QWidget* widget, QPointF from, QPointF gone, Qt::MouseButton button = Qt::LeftButton,
              Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    /// Lets things of the scene, or files, go over a place of a widget. False if it would not take them.
    bool drop(const std::vector<gswarm::ObjectId>& things, QWidget* onto, QPointF at);
    bool dropFiles(const QStringList& files, QWidget* onto, QPointF at);
    /// The rail card of that name; null if there is none.
    QWidget* card(const QString& name);
    NumberField* field(const QString& row, int component = 0);
    QString line();  ///< what the line over the picture says; empty when it is hidden

    template <class T>
    T* find(const QString& name) {
        for (T* found : window_->findChildren<T*>(name))
            if (found->isVisible()) return found;
        return nullptr;
    }

  private:
    bool drop(const QMimeData& data, QWidget* onto, QPointF at);

    std::unique_ptr<MainWindow> window_;
};
