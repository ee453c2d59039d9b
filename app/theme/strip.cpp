#include "app/theme/strip.h"

#include <algorithm>
#include <cmath>
#include <QPainter>

#include "app/theme/theme.h"

void paintStrip(QPainter& painter, const QRectF& in, const std::vector<float>& weights) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::ink);
    painter.drawRoundedRect(in, 2, 2);
    if (weights.empty()) return;
    // A column for every pixel of the screen, whole ones: no gap shows between them at any scale.
    const double pixel = 1 / painter.device()->devicePixelRatioF();
    const int columns = static_cast<int>(in.width() / pixel);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (int x = 0; x < columns; ++x) {
        const std::size_t from = static_cast<std::size_t>(x) * weights.size() / static_cast<std::size_t>(columns);
        const float w = weights[std::min(from, weights.size() - 1)];
        const double tall = std::clamp(std::abs(static_cast<double>(w)), 0.0, 1.0) * in.height();
        const QRectF bar(in.left() + x * pixel, in.bottom() - tall, pixel, tall);
        if (w < 0)
            painter.fillRect(bar, QBrush(theme::verdigris, Qt::BDiagPattern));
        else
            painter.fillRect(bar, w > 1 ? QBrush(theme::ivory, Qt::Dense4Pattern) : QBrush(theme::weightColour(w)));
    }
    painter.restore();
}

Strip::Strip(QWidget* parent) : QWidget(parent) {
    setFixedHeight(8);
    setToolTip("Weight of all instances in order");
}

void Strip::show(const std::vector<float>& weights) {
    weights_ = weights;
    update();
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintStrip(painter, QRectF(rect()), weights_);
}
