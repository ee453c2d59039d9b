#include "app/fields/number_field.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme/theme.h"
#include "core/resolve/typed_number.h"

using namespace gswarm;

namespace {

constexpr int markWidth = 13;
const QString several = "several";

/// Whether a key begins a number, so that it is typed.
bool beginsNumber(const QKeyEvent* key) {
    const QString said = key->text();
    return !said.isEmpty() && (said[0].isDigit() || said[0] == '-' || said[0] == '.' || said[0] == '(');
}

}  // namespace

NumberField::NumberField(const Parameter& parameter, double framesPerSecond, QWidget* parent)
    : QWidget(parent), parameter_(parameter), rate_(framesPerSecond) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(26);
    setMinimumWidth(44);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(QString::fromStdString(parameter.label));
    setToolTip(QString::fromStdString(parameter.summary) + "\nDrag, type or scroll. K keys it; the mark before it tells what moves it.");
    editor_ = new QLineEdit(this);
    editor_->setFont(theme::numbers());
    editor_->hide();
    editor_->installEventFilter(this);
    connect(editor_, &QLineEdit::editingFinished, this, &NumberField::takeTyped);
}

void NumberField::show(double value, Mark mark) {
    value_ = value;
    mark_ = mark;
    update();
}

QString NumberField::text() const {
    if (parameter_.type == ParameterType::whole) return QString::number(std::lround(value_));
    QString text = QString::number(value_, 'f', std::abs(value_) >= 1000 ? 1 : std::abs(value_) >= 100 ? 2 : 3);
    while (text.contains('.') && (text.endsWith('0') || text.endsWith('.'))) {
        const bool point = text.endsWith('.');
        text.chop(1);
        if (point) break;
    }
    return text == "-0" ? "0" : text;
}

double NumberField::limited(double value) const {
    if (parameter_.type == ParameterType::whole) value = std::round(value);
    return std::clamp(value, parameter_.hard.low, parameter_.hard.high);
}

double NumberField::stepSize() const {
    const double span = parameter_.suggested.high - parameter_.suggested.low;
    return parameter_.type == ParameterType::whole ? 1 : std::pow(10.0, std::floor(std::log10(std::max(span, 1e-9) / 50)));
}

void NumberField::step(double steps) {
    const double size = stepSize();
    emit edited(limited(std::round((value_ + steps * size) / size * 1e6) / 1e6 * size));
}

void NumberField::showInstead(const QString& word) {
    if (word == instead_) return;
    instead_ = word;
    update();
}

void NumberField::showFollowed(bool followed) {
    if (followed == followed_) return;
    followed_ = followed;
    const QString also = "\nOther settings follow this one; its mark names them.";
    setToolTip(followed ? toolTip() + also : toolTip().remove(also));
    update();
}

void NumberField::offerPick(bool on) {
    offered_ = on;
    setCursor(on ? Qt::PointingHandCursor : Qt::SizeHorCursor);
    update();
}

void NumberField::type() {
    editor_->setGeometry(rect());
    editor_->setText(text());
    editor_->show();
    editor_->setFocus();
    editor_->selectAll();
}

void NumberField::takeTyped() {
    if (!editor_->isVisible() || taking_) return;
    taking_ = true;
    const QString typed = editor_->text();
    editor_->hide();
    setFocus();
    taking_ = false;
    if (typed == text() && instead_ != several) return;
    const auto number = typedNumber(typed.toStdString(), parameter_.unit, rate_);
    if (!number) {
        emit trouble(
            QString("“%1” is not a valid number for %2; %3 was kept.").arg(typed, QString::fromStdString(parameter_.label), text()));
        return;
    }
    emit edited(limited(*number));
    emit finished();
}

/// Where the value begins: behind the mark, if there is one.
int NumberField::left() const { return mark_ == Mark::none ? 4 : markWidth; }

/// Digits that are shortcuts of the window are typed where the focus is on a number.
bool NumberField::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && beginsNumber(static_cast<QKeyEvent*>(event))) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

void NumberField::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(hasFocus() || offered_ ? theme::gold : theme::line, 1, offered_ ? Qt::DashLine : Qt::SolidLine));
    painter.setBrush(theme::ink);
    painter.drawRoundedRect(box, 4, 4);
    const double span = parameter_.suggested.high - parameter_.suggested.low;
    const double share = std::clamp((value_ - parameter_.suggested.low) / (span > 0 ? span : 1), 0.0, 1.0);
    painter.fillRect(QRectF(left(), height() - 4, (width() - left() - 4) * share, 2), theme::weightLow);
    // The mark: a ring when fixed, a hollow diamond when keyed, a full one with a key at this frame, ƒ, or two rings.
    const QPointF middle(7.5, height() / 2.0);
    if (mark_ == Mark::fixed) {
        painter.setPen(QPen(theme::weightLow, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(middle, 2, 2);
    } else if (mark_ == Mark::formula || mark_ == Mark::trouble) {
        painter.setPen(mark_ == Mark::trouble ? theme::coral : theme::ivory);
        painter.setFont(theme::text(11, QFont::Medium));
        painter.drawText(QRectF(0, 0, markWidth + 2, height() - 1), Qt::AlignCenter, mark_ == Mark::trouble ? "!" : "ƒ");
    } else if (mark_ == Mark::link) {  // two rings that hold each other
        painter.setPen(QPen(theme::ivory, 1.1));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(middle + QPointF(-1.6, 0), 2.4, 2.4);
        painter.drawEllipse(middle + QPointF(1.8, 0), 2.4, 2.4);
    } else if (mark_ != Mark::none) {
        const QPolygonF diamond({middle + QPointF(0, -4), middle + QPointF(4, 0), middle + QPointF(0, 4), middle + QPointF(-4, 0)});
        painter.setPen(QPen(theme::ivory, 1.2));
        painter.setBrush(mark_ == Mark::keyHere ? QBrush(theme::ivory) : QBrush(Qt::NoBrush));
        painter.drawPolygon(diamond);
    }
    if (followed_ && mark_ != Mark::none) {
        painter.setPen(QPen(theme::ivory, 1.2));
        painter.setBrush(theme::ivory);
        painter.drawLine(middle + QPointF(0, 5), middle + QPointF(0, 8));
        painter.drawEllipse(middle + QPointF(0, 9), 1.2, 1.2);
    }
    painter.setPen(theme::ivory);
    painter.setFont(theme::numbers());
    const QString unit = QString::fromStdString(parameter_.unit);
    const QString whole = unit.isEmpty() || unit.startsWith("frame") || parameter_.components > 1 ? text() : text() + " " + unit;
    const QRectF room = QRectF(rect()).adjusted(left(), 0, -5, -1);
    const bool fits = painter.fontMetrics().horizontalAdvance(whole) <= room.width();
    painter.drawText(room, Qt::AlignRight | Qt::AlignVCenter, !instead_.isEmpty() ? instead_ : fits ? whole : text());
}

void NumberField::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (offered_) {
        emit picked();
        return;
    }
    if (event->position().x() < left() && mark_ != Mark::none) {
        emit markClicked();
        return;
    }
    pressed_ = true;
    dragged_ = false;
    pressX_ = event->position().x();
    pressValue_ = value_;
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_) return;
    const double gone = event->position().x() - pressX_;
    if (!dragged_ && std::abs(gone) < 4) return;
    dragged_ = true;
    const double span = parameter_.suggested.high - parameter_.suggested.low;
    const double fine = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const double size = stepSize() * fine;
    emit edited(limited(std::round((pressValue_ + gone / 200 * span * fine) / size) * size));
}

void NumberField::mouseReleaseEvent(QMouseEvent*) {
    if (!pressed_) return;
    pressed_ = false;
    if (dragged_)
        emit finished();
    else
        type();
}

void NumberField::wheelEvent(QWheelEvent* event) {
    if (!hasFocus()) {
        event->ignore();
        return;
    }
    step(event->angleDelta().y() > 0 ? 1 : -1);
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Up:
            step(event->modifiers() & Qt::ShiftModifier ? 10 : 1);
            return;
        case Qt::Key_Down:
            step(event->modifiers() & Qt::ShiftModifier ? -10 : -1);
            return;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            type();
            return;
        case Qt::Key_K:
            emit keyAsked();
            return;
        default:
            break;
    }
    if (!beginsNumber(event)) return QWidget::keyPressEvent(event);
    type();
    editor_->setText(event->text());
}

/// Enter takes what was typed and Escape drops it; neither may reach the field itself, which would open it again.
bool NumberField::eventFilter(QObject*, QEvent* event) {
    if (event->type() == QEvent::MouseButtonDblClick) {  // all of the number, not what stands behind its point
        editor_->selectAll();
        return true;
    }
    if (event->type() != QEvent::KeyPress) return false;
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Escape) editor_->setText(text());
    const bool next = key == Qt::Key_Tab, back = key == Qt::Key_Backtab;
    if (key != Qt::Key_Return && key != Qt::Key_Enter && key != Qt::Key_Escape && !next && !back) return false;
    takeTyped();
    if (next || back) focusNextPrevChild(next);
    return true;
}

void NumberField::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}
void NumberField::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    emit finished();
    update();
}
