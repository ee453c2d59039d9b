#include "app/fields/curve_field.h"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineF>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "app/fields/number_field.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/scene/kind.h"

using namespace gswarm;

namespace {

constexpr int plotHeight = 84;
constexpr double lowest = -0.2, highest = 1.2;  // seen beyond 0 … 1 on either side
constexpr int bins = 48;

/// A coordinate or a slope as a parameter of its own, so that it is typed and dragged like any other.
Parameter numberOf(const char* label, const char* summary, Range suggested, Range hard) {
    Parameter p;
    p.label = label;
    p.summary = summary;
    p.standard = fixedNumbers({0});
    p.suggested = suggested;
    p.hard = hard;
    return p;
}

double rounded(double v) { return std::round(v * 1000) / 1000; }

}  // namespace

CurveField::CurveField(QWidget* parent) : QWidget(parent) {
    setObjectName("curveField");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName("Curve");
    spoken::tell(this, spoken::Role::curve);
    setToolTip("Drag a point or the handle of its slope; double-click adds a point, Delete takes it away");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, plotHeight + 3, 0, 0);
    numbers_ = new QWidget(this);
    auto* row = new QHBoxLayout(numbers_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(3);
    const Parameter kinds[4] = {numberOf("At", "What comes in, 0 to 1 over the range", {0, 1}, {0, 1}),
                                numberOf("Value", "What comes out there", {0, 1}, {-10, 10}),
                                numberOf("Slope in", "How steeply the curve arrives", {-3, 3}, {-100, 100}),
                                numberOf("Slope out", "How steeply the curve leaves", {-3, 3}, {-100, 100})};
    for (int k = 0; k < 4; ++k) {
        fields_[k] = new NumberField(kinds[k], 25, numbers_);
        fields_[k]->setObjectName(QString("curve-%1").arg(k));
        row->addWidget(fields_[k]);
        connect(fields_[k], &NumberField::edited, this, [this, k](double value) { setNumber(k, value); });
        connect(fields_[k], &NumberField::finished, this, &CurveField::finished);
        connect(fields_[k], &NumberField::trouble, this, &CurveField::trouble);
    }
    column->addWidget(numbers_);
}

void CurveField::show(const State& state) {
    state_ = state;
    chosen_ = std::clamp(chosen_, 0, std::max(static_cast<int>(state.points.size()) - 1, 0));
    numbers_->setVisible(state.drawn);
    showNumbers();
    update();
}

void CurveField::showNumbers() {
    if (state_.points.empty()) return;
    const CurvePoint& p = state_.points[static_cast<std::size_t>(chosen_)];
    const double values[] = {p.at, p.value, p.in, p.out};
    for (int k = 0; k < 4; ++k) fields_[k]->show(values[k], NumberField::Mark::none);
}

QRectF CurveField::plot() const { return QRectF(0.5, 0.5, width() - 1, plotHeight - 1); }

QPointF CurveField::pixel(double at, double value) const {
    const QRectF p = plot();
    const auto share = [](double v) { return (v - lowest) / (highest - lowest); };
    return {p.left() + share(at) * p.width(), p.bottom() - share(value) * p.height()};
}

QPointF CurveField::placeOf(int point) const {
    const CurvePoint& p = state_.points[static_cast<std::size_t>(point)];
    return pixel(p.at, p.value);
}

/// A fixed way off in pixels along the slope.
QPointF CurveField::slopeHandle(const CurvePoint& point, bool out) const {
    const QPointF here = pixel(point.at, point.value);
    const QPointF along = pixel(point.at + 0.1, point.value + 0.1 * (out ? point.out : point.in)) - here;
    const QPointF way = along * (24 / std::max(std::hypot(along.x(), along.y()), 1e-6));
    return out ? here + way : here - way;
}

void CurveField::paintHistogram(QPainter& painter) {
    if (state_.coming.empty()) return;
    int counts[bins] = {};
    for (const float v : state_.coming) {
        const double share = (static_cast<double>(v) - lowest) / (highest - lowest);
        if (std::isfinite(v)) ++counts[std::clamp(static_cast<int>(share * bins), 0, bins - 1)];
    }
    const int most = std::max(1, *std::max_element(counts, counts + bins));
    const QRectF p = plot();
    for (int k = 0; k < bins; ++k) {
        // The root lets rare values be seen beside common ones.
        const double tall = std::sqrt(static_cast<double>(counts[k]) / most) * (p.height() - 6);
        painter.fillRect(QRectF(p.left() + p.width() * k / bins, p.bottom() - tall, p.width() / bins - 1, tall), QColor(79, 157, 138, 90));
    }
}

void CurveField::paintPoints(QPainter& painter) {
    for (int k = 0; k < static_cast<int>(state_.points.size()); ++k) {
        const CurvePoint& point = state_.points[static_cast<std::size_t>(k)];
        if (k == chosen_)
            for (const bool out : {false, true}) {
                painter.setPen(QPen(theme::quiet, 1));
                painter.drawLine(placeOf(k), slopeHandle(point, out));
                painter.setBrush(theme::quiet);
                painter.drawRect(QRectF(slopeHandle(point, out) - QPointF(2.5, 2.5), QSizeF(5, 5)));
            }
        painter.setPen(QPen(theme::ink, 1));
        painter.setBrush(k == chosen_ ? theme::gold : theme::ivory);
        painter.drawEllipse(placeOf(k), 4, 4);
    }
}

void CurveField::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? theme::gold : theme::line, 1));
    painter.setBrush(theme::ink);
    painter.drawRoundedRect(plot(), 4, 4);
    painter.setClipRect(plot().adjusted(1, 1, -1, -1));
    paintHistogram(painter);
    painter.setPen(QPen(theme::line, 1));
    for (const double v : {0.0, 1.0}) {
        painter.drawLine(pixel(v, lowest), pixel(v, highest));
        painter.drawLine(pixel(lowest, v), pixel(highest, v));
    }
    QPolygonF line;
    for (int k = 0; k <= 120; ++k) {
        const double at = lowest + (highest - lowest) * k / 120;
        line << pixel(at, state_.value ? state_.value(at) : at);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::ivory, 1.5));
    painter.drawPolyline(line);
    if (state_.clips)  // what lies beyond is cut
        for (const QRectF& cut : {QRectF(pixel(lowest, highest), pixel(highest, 1)), QRectF(pixel(lowest, 0), pixel(highest, lowest))})
            painter.fillRect(cut, QBrush(theme::coral, Qt::BDiagPattern));
    if (state_.drawn) paintPoints(painter);
}

void CurveField::replace(std::size_t point, CurvePoint by) {
    CurvePoints points = state_.points;
    const double low = point > 0 ? points[point - 1].at + 0.001 : 0, high = point + 1 < points.size() ? points[point + 1].at - 0.001 : 1;
    by.at = rounded(std::clamp(by.at, low, std::max(low, high)));
    by.value = rounded(by.value);
    by.in = rounded(by.in);
    by.out = rounded(by.out);
    points[point] = by;
    emit edited(points);
}

void CurveField::setNumber(int which, double value) {
    const auto point = static_cast<std::size_t>(chosen_);
    CurvePoint changed = state_.points[point];
    (which == 0 ? changed.at : which == 1 ? changed.value : which == 2 ? changed.in : changed.out) = value;
    replace(point, changed);
}

void CurveField::mousePressEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    held_ = Held::nothing;
    if (event->button() != Qt::LeftButton || !plot().contains(at)) return;
    if (!state_.drawn) return emit edited(state_.points);  // the points count from now on
    const CurvePoint& chosen = state_.points[static_cast<std::size_t>(chosen_)];
    for (const bool out : {false, true})
        if (QLineF(slopeHandle(chosen, out), at).length() < 6) held_ = out ? Held::slopeOut : Held::slopeIn;
    for (int k = 0; k < static_cast<int>(state_.points.size()); ++k)
        if (QLineF(placeOf(k), at).length() < 8) {
            chosen_ = k;
            held_ = Held::point;
        }
    showNumbers();
    update();
}

void CurveField::mouseMoveEvent(QMouseEvent* event) {
    if (held_ == Held::nothing || state_.points.empty()) return;
    const auto k = static_cast<std::size_t>(chosen_);
    CurvePoint point = state_.points[k];
    const QRectF p = plot();
    const QPointF here(lowest + (event->position().x() - p.left()) / p.width() * (highest - lowest),
                       lowest + (p.bottom() - event->position().y()) / p.height() * (highest - lowest));
    if (held_ == Held::point) {
        point.at = here.x();
        point.value = std::clamp(here.y(), lowest, highest);
    } else {
        // Both sides follow unless Alt is held.
        const double side = held_ == Held::slopeOut ? 1 : -1;
        const double run = std::max((here.x() - point.at) * side, 0.005);
        const double slope = std::clamp((here.y() - point.value) * side / run, -100.0, 100.0);
        const bool alone = event->modifiers() & Qt::AltModifier;
        if (held_ == Held::slopeOut || !alone) point.out = slope;
        if (held_ == Held::slopeIn || !alone) point.in = slope;
    }
    replace(k, point);
}

void CurveField::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(held_, Held::nothing) != Held::nothing) emit finished();
}

void CurveField::mouseDoubleClickEvent(QMouseEvent* event) {
    if (!plot().contains(event->position()) || !state_.drawn) return;
    if (state_.points.size() >= mostCurvePoints)
        return emit trouble(QString("A curve takes at most %1 points; none was added.").arg(mostCurvePoints));
    const QRectF p = plot();
    const double at = rounded(std::clamp(lowest + (event->position().x() - p.left()) / p.width() * (highest - lowest), 0.0, 1.0));
    const auto next = std::find_if(state_.points.begin(), state_.points.end(), [at](const CurvePoint& c) { return c.at > at; });
    if (next != state_.points.begin() && at - (next - 1)->at < 0.001) return;
    // It lies on the curve, with the curve's slope, so that adding it changes nothing yet.
    const double slope = state_.value ? rounded((state_.value(at + 0.001) - state_.value(at - 0.001)) / 0.002) : 1;
    CurvePoints points = state_.points;
    const auto where = next - state_.points.begin();
    points.insert(points.begin() + where, CurvePoint{at, rounded(state_.value ? state_.value(at) : at), slope, slope});
    chosen_ = static_cast<int>(where);
    emit edited(points);
    emit finished();
}

void CurveField::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step != 0) {
        chosen_ = std::clamp(chosen_ + step, 0, static_cast<int>(state_.points.size()) - 1);
        showNumbers();
        return update();
    }
    if (event->key() != Qt::Key_Delete || !state_.drawn) return QWidget::keyPressEvent(event);
    if (state_.points.size() <= 2) return emit trouble("A curve needs two points; none was taken away.");
    CurvePoints points = state_.points;
    points.erase(points.begin() + chosen_);
    emit edited(points);
    emit finished();
}
