#include "app/fields/colour_field.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <QColor>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>

#include "app/theme/theme.h"
#include "core/base/css_colour.h"
#include "core/base/text.h"

namespace {

using Colour = ColourField::Numbers;

enum class ColourPart { hue, saturation, brightness, opacity };

/// How far the brightest channel lies beyond what a screen shows; 1 for ordinary colours.
double beyond(const Colour& colour) { return std::max({1.0, colour[0], colour[1], colour[2]}); }

/// What a screen shows of it, with its brightness brought into range.
QColor inRange(const Colour& colour) {
    const double factor = beyond(colour);
    const auto channel = [&](std::size_t c) { return static_cast<float>(std::clamp(colour[c] / factor, 0.0, 1.0)); };
    return QColor::fromRgbF(channel(0), channel(1), channel(2), static_cast<float>(std::clamp(colour[3], 0.0, 1.0)));
}

/// Hue, saturation and brightness of one colour, kept where grey and black have none.
struct Hsv {
    float part[3] = {0, 0, 0};
};
Hsv hsvOf(const Colour& colour, const Hsv& before) {
    Hsv now;
    inRange(colour).getHsvF(&now.part[0], &now.part[1], &now.part[2]);
    if (now.part[0] < 0) now.part[0] = before.part[0];
    if (now.part[2] <= 0) now.part[1] = before.part[1];
    return now;
}

/// One of hue, saturation, brightness and opacity as a strip to drag along.
class Strip : public QWidget {
  public:
    Strip(ColourPart part, ColourField* field) : QWidget(field), part_(part), field_(field) {
        setFixedHeight(18);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
        static const char* const names[] = {"Hue", "Saturation", "Brightness", "Opacity"};
        setObjectName(names[static_cast<int>(part)]);
        setToolTip(names[static_cast<int>(part)]);
        setAccessibleName(names[static_cast<int>(part)]);
    }
    void show(const Colour& colour) {
        if (colour == colour_) return;
        colour_ = colour;
        hsv_ = hsvOf(colour, hsv_);
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        QLinearGradient gradient(1, 0, width() - 1, 0);
        for (int k = 0; k <= 12; ++k) gradient.setColorAt(k / 12.0, inRange(with(k / 12.0)));
        painter.setPen(QPen(hasFocus() ? theme::gold : theme::line, 1));
        painter.setBrush(gradient);
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 2.5, -0.5, -2.5), 3, 3);
        const double x = value() * (width() - 4) + 2;
        painter.setPen(QPen(theme::ink, 3));
        painter.drawLine(QPointF(x, 1), QPointF(x, height() - 1));
        painter.setPen(QPen(theme::ivory, 1));
        painter.drawLine(QPointF(x, 1), QPointF(x, height() - 1));
    }
    void mousePressEvent(QMouseEvent* event) override { mouseMoveEvent(event); }
    void mouseMoveEvent(QMouseEvent* event) override { set((event->position().x() - 2) / (width() - 4)); }
    void mouseReleaseEvent(QMouseEvent*) override { emit field_->finished(); }
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right) return QWidget::keyPressEvent(event);
        set(value() + (event->key() == Qt::Key_Right ? 0.02 : -0.02));
    }

  private:
    double value() const {
        return part_ == ColourPart::opacity ? std::clamp(colour_[3], 0.0, 1.0) : double(hsv_.part[static_cast<int>(part_)]);
    }
    Colour with(double value) const {
        Colour colour = colour_;
        if (part_ == ColourPart::opacity) {
            colour[3] = value;
            return colour;
        }
        Hsv hsv = hsv_;
        hsv.part[static_cast<int>(part_)] = static_cast<float>(value);
        const QColor shown = QColor::fromHsvF(std::min(hsv.part[0], 0.9999f), hsv.part[1], hsv.part[2]);
        const double factor = beyond(colour_);
        return {shown.redF() * factor, shown.greenF() * factor, shown.blueF() * factor, colour_[3]};
    }
    void set(double value) {
        const double held = std::clamp(value, 0.0, 1.0);
        colour_ = with(held);
        if (part_ != ColourPart::opacity) hsv_.part[static_cast<int>(part_)] = static_cast<float>(held);
        update();
        emit field_->edited(colour_);
    }
    ColourPart part_;
    ColourField* field_;
    Colour colour_{0, 0, 0, 1};
    Hsv hsv_;
};

/// Three or four numbers, or a colour of CSS also without its #. What says nothing of opacity keeps it.
std::optional<Colour> colourIn(const QString& typed, const Colour& before) {
    const QStringList parts = typed.split(QRegularExpression("[,;\\s]+"), Qt::SkipEmptyParts);
    if (parts.size() == 3 || parts.size() == 4) {
        Colour out = before;
        bool numbers = true;
        for (qsizetype c = 0; c < parts.size(); ++c) {
            const auto number = gswarm::numberIn(parts[c].toStdString());
            numbers = numbers && number && std::abs(*number) <= 64;
            if (number) out[static_cast<std::size_t>(c)] = *number;
        }
        if (numbers) return out;
    }
    const QString text = typed.trimmed();
    auto colour = gswarm::cssColour(text.toStdString());
    const bool bare = !colour;
    if (bare) colour = gswarm::cssColour(("#" + text).toStdString());
    if (!colour) return std::nullopt;
    const qsizetype digits = text.size() - (text.startsWith('#') ? 1 : 0);
    const bool saysOpacity = (text.startsWith('#') || bare) ? digits == 4 || digits == 8 : text.contains("a(");
    Colour out = before;
    for (int c = 0; c < 3; ++c) out[static_cast<std::size_t>(c)] = std::round((*colour)[c] * 1e6) / 1e6;
    if (saysOpacity) out[3] = std::round(colour->w * 1e6) / 1e6;
    return out;
}

}  // namespace

QString textOf(const Colour& colour) {
    const bool plain = std::all_of(colour.begin(), colour.end(), [](double v) { return v >= 0 && v <= 1; });
    if (plain)
        return inRange(colour).name(colour[3] < 1 ? QColor::HexArgb : QColor::HexRgb).mid(colour[3] < 1 ? 3 : 1).prepend('#') +
               (colour[3] < 1 ? QString("%1").arg(static_cast<int>(std::lround(colour[3] * 255)), 2, 16, QChar('0')) : QString());
    QStringList numbers;
    for (std::size_t c = 0; c < (colour[3] == 1 ? 3u : 4u); ++c) numbers << QString::number(std::round(colour[c] * 1000) / 1000);
    return numbers.join(", ");
}

ColourField::ColourField(bool withOpacity, QWidget* parent) : QWidget(parent), withOpacity_(withOpacity) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    swatch_ = new QPushButton(this);
    swatch_->setFixedSize(44, 26);
    swatch_->setAccessibleName("Colour");
    swatch_->setToolTip(withOpacity ? "Hue, saturation, brightness and opacity" : "Hue, saturation and brightness");
    text_ = new QLineEdit(this);
    text_->setFont(theme::numbers());
    text_->setAccessibleName("Colour in words");
    text_->setToolTip(withOpacity ? "#d9a441, #d9a44180 with opacity, gold, or numbers such as 1.4, 0.9, 0.2"
                                  : "#d9a441, gold, or numbers such as 1.4, 0.9, 0.2");
    row->addWidget(swatch_);
    row->addWidget(text_, 1);
    column->addLayout(row);
    strips_ = new QWidget(this);
    auto* strips = new QVBoxLayout(strips_);
    strips->setContentsMargins(0, 0, 0, 0);
    strips->setSpacing(2);
    strips_->hide();
    column->addWidget(strips_);
    connect(swatch_, &QPushButton::clicked, this, &ColourField::unfold);
    connect(text_, &QLineEdit::editingFinished, this, &ColourField::takeText);
}

void ColourField::show(const Colour& colour) {
    colour_ = colour;
    swatch_->setStyleSheet(QString("QPushButton { background: %1; min-height: 24px; } QPushButton:focus { border-color: #d9a441; }")
                               .arg(inRange(colour).name()));
    if (!text_->hasFocus()) text_->setText(textOf(colour));
    for (QWidget* child : strips_->findChildren<QWidget*>()) static_cast<Strip*>(child)->show(colour);
}

void ColourField::unfold() {
    if (strips_->isVisible()) {
        strips_->hide();
        return;
    }
    if (strips_->layout()->isEmpty())
        for (const ColourPart part : {ColourPart::hue, ColourPart::saturation, ColourPart::brightness, ColourPart::opacity}) {
            if (part == ColourPart::opacity && !withOpacity_) continue;
            auto* strip = new Strip(part, this);
            strip->show(colour_);
            static_cast<QWidget*>(strip)->show();
            strips_->layout()->addWidget(strip);
        }
    strips_->show();
}

void ColourField::takeText() {
    if (text_->text() == textOf(colour_)) return;
    const auto typed = colourIn(text_->text(), colour_);
    if (!typed) {
        emit trouble(QString("“%1” is no colour such as #d9a441 or 1.4, 0.9, 0.2; the colour was kept.").arg(text_->text()));
        text_->setText(textOf(colour_));
        return;
    }
    emit edited(*typed);
    text_->setText(textOf(colour_));
    emit finished();
}
