#include "app/theme/behaviour.h"

#include <QAbstractButton>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QKeyEvent>

bool Behaviour::eventFilter(QObject* watched, QEvent* event) {
    const bool choice = qobject_cast<QComboBox*>(watched) || qobject_cast<QAbstractSpinBox*>(watched);
    if (choice && event->type() == QEvent::Polish) static_cast<QWidget*>(watched)->setFocusPolicy(Qt::StrongFocus);
    if (choice && event->type() == QEvent::Wheel) {
        event->ignore();  // goes to what it lies in
        return true;
    }
    auto* button = event->type() == QEvent::KeyPress ? qobject_cast<QAbstractButton*>(watched) : nullptr;
    if (!button) return false;
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
    button->click();
    return true;
}
