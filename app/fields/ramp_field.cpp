#include "app/fields/ramp_field.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "app/fields/colour_field.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/scene/kind.h"

using namespace gswarm;

namespace {

constexpr int barHeight = 20, stopsHeight = 12;

QColor colourOf(const RampStop& stop) {
    const auto channel = [](double v) { return static_cast<float>(std::clamp(v, 0.0, 1.0)); };
    return QColor::fromRgbF(channel(stop.colour[0]), channel(stop.colour[1]), channel(stop.colour[2]));
}

}  // namespace

RampField::RampField(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName("Ramp");
    spoken::tell(this, spoken::Role::ramp);
    setToolTip("Click a stop to choose it, drag to move it, double-click to add one, Delete takes it away");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, barHeight + stopsHeight + 4, 0, 0);
    colour_ = new ColourField(true, this);
    column->addWidget(colour_);
    connect(colour_, &ColourField::edited, this, [this](const std::array<double, 4>& colour) {
        Ramp ramp = ramp_;
        ramp[static_cast<std::size_t>(chosen_)].colour = colour;
        emit edited(ramp);
    });
    connect(colour_, &ColourField::finished, this, &RampField::finished);
    connect(colour_, &ColourField::trouble, this, &RampField::trouble);
}

void RampField::show(const Ramp& ramp) {
    spoken::setValue(this, QString("%1 stops").arg(ramp.size()));
    ramp_ = ramp;
    choose(std::min(chosen_, static_cast<int>(ramp.size()) - 1));
}

void RampField::choose(int stop) {
    chosen_ = std::max(0, stop);
    colour_->show(ramp_[static_cast<std::size_t>(chosen_)].colour);
    update();
}

double RampField::placeAt(double x) const { return std::clamp((x - 5) / (width() - 10), 0.0, 1.0); }
double RampField::xOf(double at) const { return 5 + at * (width() - 10); }

void RampField::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    // Mixed in linear light, as the swarm does.
    QLinearGradient gradient(xOf(0), 0, xOf(1), 0);
    for (std::size_t k = 0; k + 1 < ramp_.size(); ++k)
        for (int s = 0; s <= 8; ++s) {
            RampStop mixed;
            const double x = s / 8.0;
            for (int c = 0; c < 3; ++c)
                mixed.colour[c] = srgbFromLinear(linearFromSrgb(ramp_[k].colour[c]) * (1 - x) + linearFromSrgb(ramp_[k + 1].colour[c]) * x);
            gradient.setColorAt(ramp_[k].at + (ramp_[k + 1].at - ramp_[k].at) * x, colourOf(mixed));
        }
    if (ramp_.size() == 1) gradient.setColorAt(0, colourOf(ramp_.front()));
    painter.setPen(QPen(hasFocus() ? theme::gold : theme::line, 1));
    painter.setBrush(gradient);
    painter.drawRoundedRect(QRectF(0.5, 0.5, width() - 1, barHeight - 1), 4, 4);
    for (std::size_t k = 0; k < ramp_.size(); ++k) {
        const double x = xOf(ramp_[k].at), top = barHeight + 2;
        painter.setPen(QPen(static_cast<int>(k) == chosen_ ? theme::gold : theme::quiet, 1.5));
        painter.setBrush(colourOf(ramp_[k]));
        painter.drawPolygon(QPolygonF({{x, top}, {x + 5, top + 5}, {x + 5, top + 10}, {x - 5, top + 10}, {x - 5, top + 5}}));
    }
}

void RampField::mousePressEvent(QMouseEvent* event) {
    for (std::size_t k = 0; k < ramp_.size(); ++k)
        if (std::abs(xOf(ramp_[k].at) - event->position().x()) < 7 && event->position().y() < barHeight + stopsHeight) {
            choose(static_cast<int>(k));
            dragging_ = true;
        }
}

void RampField::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_) return;
    Ramp ramp = ramp_;
    const auto k = static_cast<std::size_t>(chosen_);
    const double low = k > 0 ? ramp[k - 1].at : 0, high = k + 1 < ramp.size() ? ramp[k + 1].at : 1;
    ramp[k].at = std::clamp(std::round(placeAt(event->position().x()) * 100) / 100, low, high);
    emit edited(ramp);
}

void RampField::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(dragging_, false)) emit finished();
}

void RampField::mouseDoubleClickEvent(QMouseEvent* event) {
    if (ramp_.size() >= mostRampStops) return emit trouble(QString("A ramp takes at most %1 stops.").arg(mostRampStops));
    Ramp ramp = ramp_;
    const double at = std::round(placeAt(event->position().x()) * 100) / 100;
    const auto next = std::find_if(ramp.begin(), ramp.end(), [at](const RampStop& s) { return s.at > at; });
    RampStop stop = next == ramp.end() ? ramp.back() : next == ramp.begin() ? ramp.front() : *(next - 1);
    stop.at = at;
    const auto made = ramp.insert(next, stop);
    chosen_ = static_cast<int>(made - ramp.begin());
    emit edited(ramp);
    emit finished();
}

void RampField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        return choose(std::clamp(chosen_ + (event->key() == Qt::Key_Right ? 1 : -1), 0, static_cast<int>(ramp_.size()) - 1));
    if (event->key() != Qt::Key_Delete) return QWidget::keyPressEvent(event);
    if (ramp_.size() < 2) return emit trouble("A ramp needs at least one stop.");
    Ramp ramp = ramp_;
    ramp.erase(ramp.begin() + chosen_);
    emit edited(ramp);
    emit finished();
}
