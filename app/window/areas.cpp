#include "app/window/areas.h"

#include <QApplication>
#include <QScrollArea>
#include <QWidget>

namespace {

bool takesTab(const QWidget* widget) { return widget->isVisible() && widget->isEnabled() && widget->focusPolicy() & Qt::TabFocus; }

/// The first in an area that takes the keyboard, as Tab goes; null if nothing does.
QWidget* entrance(QWidget* area) {
    if (takesTab(area)) return area;
    for (QWidget* next = area->nextInFocusChain(); next && next != area; next = next->nextInFocusChain())
        if (area->isAncestorOf(next) && takesTab(next)) return next;
    return nullptr;
}

}  // namespace

void areas::step(const QList<QWidget*>& all, int by) {
    QList<QWidget*> entrances;
    qsizetype now = -1;
    const QWidget* focus = QApplication::focusWidget();
    for (QWidget* area : all) {
        QWidget* in = area->isVisible() ? entrance(area) : nullptr;
        if (!in) continue;
        if (focus && (focus == area || area->isAncestorOf(focus))) now = entrances.size();
        entrances << in;
    }
    if (entrances.isEmpty()) return;
    const qsizetype next = now < 0 ? 0 : (now + by + entrances.size()) % entrances.size();
    entrances[next]->setFocus(Qt::TabFocusReason);
    for (QWidget* up = entrances[next]->parentWidget(); up; up = up->parentWidget())
        if (auto* scroll = qobject_cast<QScrollArea*>(up)) scroll->ensureWidgetVisible(entrances[next]);
}
