#include "app/rail/rail_card.h"

#include <algorithm>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme/theme.h"

RailCard::RailCard(int index, QWidget* parent) : QWidget(parent), index_(index) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(64);
}

void RailCard::show(const CardState& state) {
    state_ = state;
    setToolTip(state.tip);
    setAccessibleName(state.name + ", " + state.count);
    update();
}

QRectF RailCard::switchRect() const { return QRectF(width() - 30, 7, 22, 12); }
QRectF RailCard::whyRect() const { return QRectF(width() - 42, height() - 19, 36, 16); }

void RailCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(state_.chosen ? theme::gold : hasFocus() ? theme::quiet : theme::line, state_.chosen ? 1.5 : 1));
    painter.setBrush(state_.chosen ? theme::raised : theme::panel);
    painter.drawRoundedRect(box, 4, 4);
    const QColor ink = state_.on ? theme::ivory : theme::quiet;
    theme::paintIcon(painter, state_.icon, QRectF(8, 6, 14, 14), ink);
    painter.setPen(ink);
    painter.setFont(theme::text(13, QFont::Medium));
    const double nameEnd = state_.hasSwitch ? switchRect().left() - 4 : width() - 6;
    const QRectF nameRect(27, 3, nameEnd - 27, 20);
    painter.drawText(nameRect, Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(state_.name, Qt::ElideRight, static_cast<int>(nameRect.width())));
    if (state_.hasSwitch) {
        painter.setPen(QPen(theme::line, 1));
        painter.setBrush(state_.on ? theme::line : theme::ink);
        painter.drawRoundedRect(switchRect(), 3, 3);
        painter.setPen(Qt::NoPen);
        painter.setBrush(state_.solo ? theme::gold : state_.on ? theme::ivory : theme::weightLow);
        painter.drawRoundedRect(QRectF(switchRect().left() + (state_.on ? 12 : 2), switchRect().top() + 2, 8, 8), 2, 2);
    }
    // The strip: every instance in order, how strongly the card acts on it now.
    const QRectF strip(8, 26, width() - 16, 13);
    if (!state_.strip.empty()) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::ink);
        painter.drawRoundedRect(strip, 2, 2);
        const int columns = static_cast<int>(strip.width());
        for (int x = 0; x < columns; ++x) {
            const std::size_t from = static_cast<std::size_t>(x) * state_.strip.size() / static_cast<std::size_t>(columns);
            const float w = state_.strip[std::min(from, state_.strip.size() - 1)];
            const double tall = std::clamp(std::abs(static_cast<double>(w)), 0.0, 1.0) * strip.height();
            const QRectF bar(strip.left() + x, strip.bottom() - tall, 1, tall);
            if (w < 0)
                painter.fillRect(bar, QBrush(theme::verdigris, Qt::BDiagPattern));
            else
                painter.fillRect(bar, w > 1 ? QBrush(theme::ivory, Qt::Dense4Pattern) : QBrush(theme::weightColour(w)));
        }
    }
    painter.setFont(theme::numbers(10));
    painter.setPen(state_.trouble ? theme::coral : theme::quiet);
    const QRectF line(8, height() - 20, (state_.why ? whyRect().left() - 4 : width() - 6) - 8, 16);
    if (state_.hasSwitch)
        painter.drawText(line, Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(state_.count, Qt::ElideRight, static_cast<int>(line.width())));
    else  // without a strip there is room for two lines
        painter.drawText(line.adjusted(0, -14, 0, 0), Qt::AlignBottom | Qt::TextWordWrap, state_.count);
    if (state_.why) {
        painter.setPen(QPen(theme::coral, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(whyRect(), 4, 4);
        painter.setFont(theme::text(11, QFont::DemiBold));
        painter.drawText(whyRect(), Qt::AlignCenter, "Why?");
    }
}

void RailCard::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = event->position().toPoint();
    dragging_ = false;
}

void RailCard::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton) || !state_.hasSwitch) return;
    if (!dragging_ && (event->position().toPoint() - pressed_).manhattanLength() < 8) return;
    dragging_ = true;
}

void RailCard::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (std::exchange(dragging_, false)) return emit dropped(static_cast<int>(event->globalPosition().x()));
    if (state_.hasSwitch && switchRect().adjusted(-4, -4, 4, 4).contains(pressed_)) return emit switched(!state_.on);
    if (state_.why && whyRect().contains(pressed_)) return emit whyAsked();
    emit chosen();
}

void RailCard::mouseDoubleClickEvent(QMouseEvent* event) {
    if (state_.hasSwitch && !switchRect().adjusted(-4, -4, 4, 4).contains(event->position())) emit renameAsked();
}
void RailCard::contextMenuEvent(QContextMenuEvent* event) { emit menuAsked(event->globalPos()); }

void RailCard::keyPressEvent(QKeyEvent* event) {
    const int direction = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (direction != 0) return event->modifiers() & Qt::AltModifier ? emit moveAsked(direction) : emit stepped(direction);
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
            return emit chosen();
        case Qt::Key_O:
            if (state_.hasSwitch) return emit switched(!state_.on);
            break;
        case Qt::Key_Question:
            return emit whyAsked();
        case Qt::Key_F2:
            return emit renameAsked();
        case Qt::Key_Menu:
            return emit menuAsked(mapToGlobal(rect().center()));
        default:
            break;
    }
    QWidget::keyPressEvent(event);
}
