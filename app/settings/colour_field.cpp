#include "app/settings/colour_field.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

#include "app/theme/theme.h"

namespace {

enum class Part { hue, saturation, brightness };

float partOf(const QColor& colour, Part part) {
    float h = 0, s = 0, v = 0;
    colour.getHsvF(&h, &s, &v);
    return part == Part::hue ? std::max(h, 0.0f) : part == Part::saturation ? s : v;
}

QColor withPart(const QColor& colour, Part part, float value) {
    float h = 0, s = 0, v = 0, a = 1;
    colour.getHsvF(&h, &s, &v, &a);
    h = std::max(h, 0.0f);
    (part == Part::hue ? h : part == Part::saturation ? s : v) = value;
    return QColor::fromHsvF(std::min(h, 0.9999f), s, v, a);
}

/// One of hue, saturation and brightness as a strip to drag along.
class Strip : public QWidget {
  public:
    Strip(Part part, ColourField* field, const QColor& colour) : QWidget(field), part_(part), field_(field), colour_(colour) {
        setFixedHeight(18);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
        static const char* const names[] = {"Hue", "Saturation", "Brightness"};
        setToolTip(names[static_cast<int>(part)]);
        setAccessibleName(names[static_cast<int>(part)]);
    }
    void show(const QColor& colour) {
        if (colour.rgb() == colour_.rgb()) return;  // keeps hue and saturation where grey has none
        colour_ = colour;
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        QLinearGradient gradient(1, 0, width() - 1, 0);
        for (int k = 0; k <= 12; ++k) gradient.setColorAt(k / 12.0, withPart(colour_, part_, static_cast<float>(k) / 12.0f));
        painter.setPen(QPen(hasFocus() ? theme::gold : theme::line, 1));
        painter.setBrush(gradient);
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 2.5, -0.5, -2.5), 3, 3);
        const double x = partOf(colour_, part_) * (width() - 4) + 2;
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
        set(partOf(colour_, part_) + (event->key() == Qt::Key_Right ? 0.02f : -0.02f));
    }

  private:
    void set(double value) {
        colour_ = withPart(colour_, part_, static_cast<float>(std::clamp(value, 0.0, 1.0)));
        update();
        emit field_->edited(colour_);
    }
    Part part_;
    ColourField* field_;
    QColor colour_;
};

}  // namespace

ColourField::ColourField(QWidget* parent) : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    swatch_ = new QPushButton(this);
    swatch_->setFixedSize(44, 26);
    swatch_->setAccessibleName("Colour");
    swatch_->setToolTip("Hue, saturation and brightness");
    hex_ = new QLineEdit(this);
    hex_->setFont(theme::numbers());
    hex_->setAccessibleName("Colour as hex");
    row->addWidget(swatch_);
    row->addWidget(hex_, 1);
    column->addLayout(row);
    strips_ = new QWidget(this);
    auto* strips = new QVBoxLayout(strips_);
    strips->setContentsMargins(0, 0, 0, 0);
    strips->setSpacing(2);
    strips_->hide();
    column->addWidget(strips_);
    connect(swatch_, &QPushButton::clicked, this, &ColourField::unfold);
    connect(hex_, &QLineEdit::editingFinished, this, &ColourField::takeHex);
}

void ColourField::show(const QColor& colour) {
    colour_ = colour;
    swatch_->setStyleSheet(
        QString("QPushButton { background: %1; min-height: 24px; } QPushButton:focus { border-color: #d9a441; }").arg(colour.name()));
    if (!hex_->hasFocus()) hex_->setText(colour.name());
    for (QWidget* child : strips_->findChildren<QWidget*>()) static_cast<Strip*>(child)->show(colour);
}

void ColourField::unfold() {
    if (strips_->isVisible()) {
        strips_->hide();
        return;
    }
    if (strips_->layout()->isEmpty())
        for (const Part part : {Part::hue, Part::saturation, Part::brightness})
            strips_->layout()->addWidget(new Strip(part, this, colour_));
    strips_->show();
}

void ColourField::takeHex() {
    if (hex_->text() == colour_.name()) return;
    const QColor typed(hex_->text().startsWith('#') ? hex_->text() : "#" + hex_->text());
    if (!typed.isValid()) {
        emit trouble(QString("“%1” is no colour such as #d9a441; the colour was kept.").arg(hex_->text()));
        hex_->setText(colour_.name());
        return;
    }
    emit edited(typed);
    emit finished();
}
