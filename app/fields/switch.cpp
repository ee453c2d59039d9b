#include "app/fields/switch.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/theme/theme.h"

Switch::Switch(QWidget* parent) : QAbstractButton(parent) {
    setCheckable(true);
    setFixedSize(30, 18);
    setCursor(Qt::PointingHandCursor);
}

void Switch::showKeyed(bool keyed) {
    keyed_ = keyed;
    update();
}

void Switch::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_K && event->modifiers() == Qt::NoModifier)
        emit keyAsked();
    else
        QAbstractButton::keyPressEvent(event);
}

void Switch::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? theme::gold : theme::line, 1));
    painter.setBrush(isChecked() ? theme::line : theme::ink);
    painter.drawRoundedRect(QRectF(1.5, 2.5, 27, 13), 4, 4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(isChecked() ? theme::gold : theme::weightLow);
    painter.drawRoundedRect(QRectF(isChecked() ? 17 : 4, 5, 9, 8), 2.5, 2.5);
    if (!keyed_) return;
    const QPointF middle(isChecked() ? 21.5 : 8.5, 9);
    painter.setBrush(theme::ink);
    painter.drawPolygon(QPolygonF({middle + QPointF(0, -3), middle + QPointF(3, 0), middle + QPointF(0, 3), middle + QPointF(-3, 0)}));
}
