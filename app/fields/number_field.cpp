#include "app/fields/number_field.h"

#include <algorithm>
#include <cmath>
#include <QClipboard>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMetaMethod>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme/spoken.h"
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

bool isClipboard(const QKeyEvent& key) { return key.matches(QKeySequence::Copy) || key.matches(QKeySequence::Paste); }

}  // namespace

NumberField::NumberField(const Parameter& parameter, double framesPerSecond, QWidget* parent)
    : QWidget(parent), parameter_(parameter), rate_(framesPerSecond) {
    spoken::tell(this, spoken::Role::number);
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(26);
    setMinimumWidth(44);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(QString::fromStdString(parameter.label));
    setToolTip(
        QString::fromStdString(parameter.summary) +
        "\nDrag, type or scroll. K keys it, Ctrl+C and Ctrl+V copy and paste; the mark before it tells what moves it. The name of another "
        "setting makes it a formula.");
    editor_ = new QLineEdit(this);
    editor_->setFont(theme::numbers());
    editor_->hide();
    editor_->installEventFilter(this);
    connect(editor_, &QLineEdit::editingFinished, this, &NumberField::takeTyped);
}

void NumberField::show(double value, Mark mark) {
    value_ = value;
    mark_ = mark;
    tellValue();
    update();
}

/// The value in words, and what moves it.
void NumberField::tellValue() {
    static const char* const moved[] = {"", "", ", keyed", ", keyed here", ", by a formula", ", linked", ", by a formula without a value"};
    const QString said = unit().isEmpty() ? text() : text() + " " + unit();
    spoken::setValue(this, (instead_.isEmpty() ? said : instead_) + moved[static_cast<int>(mark_)]);
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
    tellValue();
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
    take(typed);
}

/// A number in any unit it has; else it may be a formula, which only the row can tell.
void NumberField::take(const QString& typed) {
    const auto number = typedNumber(typed.toStdString(), parameter_.unit, rate_);
    if (!number && isSignalConnected(QMetaMethod::fromSignal(&NumberField::formulaTyped))) return emit formulaTyped(typed);
    if (!number)
        return emit trouble(QString("“%1” is not a number; %2 stays %3.").arg(typed, QString::fromStdString(parameter_.label), text()));
    emit edited(limited(*number));
    emit finished();
}

void NumberField::setLetter(const QString& letter) {
    letter_ = letter;
    setAccessibleName(QString::fromStdString(parameter_.label) + " " + letter);
    update();
}

/// As short as people write it.
QString NumberField::unit() const {
    const QString unit = QString::fromStdString(parameter_.unit);
    return unit.startsWith("frame") ? "f" : unit;
}

void NumberField::copy() const {
    const QString said = unit();
    QGuiApplication::clipboard()->setText(said.isEmpty() ? text() : text() + " " + said);
}

/// Numbers one after the other, by blanks, tabs or lines, are several; "2.4 m" is one.
void NumberField::paste() {
    const QString text = QGuiApplication::clipboard()->text().simplified();
    if (text.isEmpty()) return;
    if (typedNumber(text.toStdString(), parameter_.unit, rate_)) return take(text);
    const QStringList parts = QString(text).replace(';', ' ').simplified().split(' ');
    const bool numbers = parts.size() > 1 && std::all_of(parts.begin(), parts.end(), [this](const QString& part) {
                             return typedNumber(part.toStdString(), parameter_.unit, rate_).has_value();
                         });
    if (numbers) return emit severalPasted(parts);
    take(text);
}

/// Where the value begins: behind the mark, if there is one.
int NumberField::left() const { return mark_ == Mark::none ? 4 : markWidth; }

/// Digits that are shortcuts of the window are typed where the focus is on a number.
bool NumberField::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride &&
        (beginsNumber(static_cast<QKeyEvent*>(event)) || isClipboard(*static_cast<QKeyEvent*>(event)))) {
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
    QRectF room = QRectF(rect()).adjusted(left(), 0, -5, -1);
    const auto width = [&](const QString& said) { return painter.fontMetrics().horizontalAdvance(said); };
    // X, Y or Z where it leaves room for the number. The unit goes along wherever there is room, closer where there is little;
    // the label of several numbers says it too.
    const int letterWidth = letter_.isEmpty() ? 0 : QFontMetrics(theme::text(11)).horizontalAdvance(letter_) + 4;
    const QString said = !instead_.isEmpty() ? instead_ : text();
    QString whole = said;
    const bool lettered = letterWidth > 0 && letterWidth + width(said) <= room.width();
    const double free = room.width() - (lettered ? letterWidth : 0);
    if (instead_.isEmpty() && !unit().isEmpty()) {
        const bool close = unit() == "°" || unit() == "%";
        for (const QString& longer : {said + " " + unit(), said + (close ? "" : "\u200a") + unit()})
            if (width(longer) <= free) {
                whole = longer;
                break;
            }
    }
    painter.drawText(room, Qt::AlignRight | Qt::AlignVCenter, whole);
    if (!lettered) return;
    painter.setPen(theme::quiet);
    painter.setFont(theme::text(11));
    painter.drawText(room.adjusted(1, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, letter_);
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
    if (event->matches(QKeySequence::Copy)) return copy();
    if (event->matches(QKeySequence::Paste)) return paste();
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
