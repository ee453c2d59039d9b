#include "app/rail/rail_card.h"

#include <algorithm>
#include <cmath>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme/spoken.h"
#include "app/theme/strip.h"
#include "app/theme/theme.h"

namespace {

constexpr int narrow = 102;  ///< pixels

}  // namespace

RailCard::RailCard(int index, QWidget* parent) : QWidget(parent), index_(index) {
    spoken::tell(this, spoken::Role::card);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(64);
    setMouseTracking(true);
}

void RailCard::show(const CardState& state) {
    state_ = state;
    setToolTip(state.tip);
    setAccessibleName(state.name);
    const QString strength = state.strength ? QString(", strength %1 %").arg(std::round(*state.strength * 100)) : QString();
    spoken::setValue(this, (state.on ? "" : "off, ") + QString(state.count).replace('\n', ", ") + strength);
    update();
}

QRectF RailCard::switchRect() const { return QRectF(width() - 30, 7, 22, 12); }
/// Beside the count; where there is no switch, in its place.
QRectF RailCard::buttonRect() const {
    return state_.hasSwitch ? QRectF(width() - 42, height() - 22, 36, 16) : QRectF(width() - 38, 5, 32, 16);
}
QRectF RailCard::strengthRect() const { return QRectF(8, height() - 5, width() - 16, 2); }

void RailCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(state_.chosen ? theme::gold : hasFocus() ? theme::quiet : theme::line, state_.chosen ? 1.5 : 1));
    painter.setBrush(state_.chosen ? theme::raised : theme::panel);
    painter.drawRoundedRect(box, 4, 4);
    paintHead(painter);
    if (!state_.added.isEmpty())
        paintTally(painter);
    else
        paintWeights(painter);
    if (state_.strength) paintStrength(painter);
}

/// Icon, name, that it is shared, and the switch.
void RailCard::paintHead(QPainter& painter) const {
    const QColor ink = state_.on ? theme::ivory : theme::quiet;
    painter.setPen(ink);
    painter.setFont(theme::text(13, QFont::Medium));
    const bool shared = state_.swarms > 1;
    const double atHead = state_.button.isEmpty() ? width() - 6 : buttonRect().left() - 4;
    const double nameEnd = state_.hasSwitch ? switchRect().left() - (shared ? 18 : 4) : atHead;
    constexpr double besideIcon = 27;
    const bool fits = painter.fontMetrics().horizontalAdvance(state_.name) <= nameEnd - besideIcon;
    const bool roomForIcon = width() >= narrow && (state_.hasSwitch || fits);  // else the name needs it more
    if (roomForIcon) theme::paintIcon(painter, state_.icon, QRectF(8, 6, 14, 14), ink);
    const double nameStart = roomForIcon ? besideIcon : 8;
    const QRectF nameRect(nameStart, 3, nameEnd - nameStart, 20);
    painter.drawText(nameRect, Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(state_.name, Qt::ElideRight, static_cast<int>(nameRect.width())));
    if (shared) theme::paintIcon(painter, "shared", QRectF(nameEnd + 2, 7, 12, 12), ink);
    if (!state_.hasSwitch) return;
    painter.setPen(QPen(theme::line, 1));
    painter.setBrush(state_.on ? theme::line : theme::ink);
    painter.drawRoundedRect(switchRect(), 3, 3);
    painter.setPen(Qt::NoPen);
    painter.setBrush(state_.solo ? theme::gold : state_.on ? theme::ivory : theme::weightLow);
    painter.drawRoundedRect(QRectF(switchRect().left() + (state_.on ? 12 : 2), switchRect().top() + 2, 8, 8), 2, 2);
}

/// The strip over all instances, and how many there are of what.
void RailCard::paintWeights(QPainter& painter) const {
    if (!state_.strip.empty()) paintStrip(painter, QRectF(8, 25, width() - 16, 13), state_.strip);
    painter.setPen(state_.trouble || state_.wantsWhole ? theme::coral : theme::quiet);
    const QRectF line(8, height() - 23, (state_.button.isEmpty() ? width() - 6 : buttonRect().left() - 4) - 8, 16);
    if (!state_.hasSwitch) {  // without a strip there is room for two lines
        painter.setFont(theme::numbers(10));
        painter.drawText(QRectF(8, height() - 35, width() - 14, 30), Qt::AlignBottom | Qt::TextWordWrap, state_.count);
    } else {
        paintCount(painter, line);
    }
    if (state_.button.isEmpty()) return;
    painter.setPen(QPen(theme::coral, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(buttonRect(), 4, 4);
    painter.setFont(theme::text(11, QFont::DemiBold));
    painter.drawText(buttonRect(), Qt::AlignCenter, state_.button);
}

/// Smaller letters before anything is cut off; what a clip cuts stands at the right.
void RailCard::paintCount(QPainter& painter, const QRectF& line) const {
    const QString told =
        turning_ || overStrength_ ? QString("strength %1 %").arg(std::round(state_.strength.value_or(1) * 1000) / 10) : state_.count;
    const QString cut = state_.button.isEmpty() ? state_.cut : QString();
    int room = 0, cutWidth = 0;
    for (const int size : {10, 9, 8}) {
        painter.setFont(theme::numbers(size));
        cutWidth = cut.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(cut) + 6;
        room = static_cast<int>(line.width()) - cutWidth;
        if (painter.fontMetrics().horizontalAdvance(told) <= room) break;
    }
    painter.drawText(line, Qt::AlignVCenter, painter.fontMetrics().elidedText(told, Qt::ElideRight, room));
    if (cutWidth == 0) return;
    painter.setPen(theme::coral);
    painter.drawText(line, Qt::AlignVCenter | Qt::AlignRight, cut);
}

/// What the card added to the one instance, and what that has afterwards.
void RailCard::paintTally(QPainter& painter) const {
    const auto line = [&](double top, const QString& text, const QColor& colour) {
        painter.setPen(colour);
        painter.setFont(theme::numbers(10));
        painter.drawText(QRectF(8, top, width() - 12, 15), Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(text, Qt::ElideRight, width() - 14));
    };
    line(24, state_.added, theme::ivory);
    const QColor swatch(state_.value.startsWith('#') ? state_.value : QString());
    if (swatch.isValid()) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(swatch);
        painter.drawRoundedRect(QRectF(width() - 30, 42, 22, 11), 2, 2);
    }
    line(40, state_.value, theme::quiet);
}

/// A thin bar that can be dragged.
void RailCard::paintStrength(QPainter& painter) const {
    const QRectF bar = strengthRect();
    painter.fillRect(bar, theme::line);
    const double share = std::clamp(std::abs(*state_.strength), 0.0, 1.0);
    painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * share, bar.height()),
                     overStrength_ || turning_ ? theme::ivory : theme::quiet);
}

void RailCard::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = event->position().toPoint();
    dragging_ = false;
    turning_ = state_.strength && strengthRect().adjusted(-2, -5, 2, 5).contains(pressed_);
}

void RailCard::mouseMoveEvent(QMouseEvent* event) {
    const bool over = state_.strength && strengthRect().adjusted(-2, -5, 2, 5).contains(event->position());
    if (over != overStrength_) {
        overStrength_ = over;
        setCursor(over ? Qt::SizeHorCursor : Qt::PointingHandCursor);
        update();
    }
    if (!(event->buttons() & Qt::LeftButton) || !state_.hasSwitch) return;
    if (turning_) {
        const double share = (event->position().x() - strengthRect().left()) / strengthRect().width();
        return emit strengthAsked(std::round(std::clamp(share, 0.0, 1.0) * 100) / 100);
    }
    if (!dragging_ && (event->position().toPoint() - pressed_).manhattanLength() < 8) return;
    dragging_ = true;
}

void RailCard::leaveEvent(QEvent*) {
    overStrength_ = false;
    update();
}

void RailCard::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (std::exchange(turning_, false)) return emit strengthDone();
    if (std::exchange(dragging_, false)) return emit dropped(static_cast<int>(event->globalPosition().x()));
    if (state_.hasSwitch && switchRect().adjusted(-4, -4, 4, 4).contains(pressed_)) return emit switched(!state_.on);
    if (!state_.button.isEmpty() && state_.added.isEmpty() && buttonRect().contains(pressed_)) return emit buttonPressed();
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
        case Qt::Key_S:
            if (state_.hasSwitch) return emit soloAsked();
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
