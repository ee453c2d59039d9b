#pragma once
#include <QAction>
#include <QMenu>
#include <QPointer>

/// Lets a person choose from a menu. While it is open, time goes on: what asked may be made anew (a number begins to apply while
/// it plays) and be gone when the answer comes. Null then, and when nothing was chosen; after null nothing of the asker may
/// be touched. The menu must belong to the window (`QMenu menu(window())`), never to what may go: it would go along.
inline QAction* askMenu(QMenu& menu, const QPoint& at, const QWidget* asker) {
    const QPointer<const QWidget> still(asker);
    QAction* chosen = menu.exec(at);
    return still ? chosen : nullptr;
}
