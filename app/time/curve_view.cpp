#include "app/time/curve_view.h"

#include <algorithm>
#include <cmath>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include "app/fields/key_menu.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "app/time/time_rows.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/scene/frame_range.h"
#include "core/time/track.h"

using namespace gswarm;

namespace {

constexpr double margin = 12, handleLength = 34, reach = 7;
/// Lines of several numbers differ by brightness and dash; colours keep their meanings.
const Qt::PenStyle dashes[] = {Qt::SolidLine, Qt::DashLine, Qt::DashDotLine};

}  // namespace

CurveView::CurveView(Document& document, TimeRows& rows, QWidget* parent) : QWidget(parent), document_(document), rows_(rows) {
    setObjectName("curveView");
    setAccessibleName("Curves");
    spoken::tell(this, spoken::Role::curve);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(60);
    setToolTip(
        "Drag keys and the handles of free ones; double-click a curve to add a key; right-click a key for its ease. A click on a name "
        "hides or shows it. The wheel zooms the values, a double click on their scale shows all again.");
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged})
        connect(&document_, signal, this, [this] {
            if (!grip_) measure();
            update();
        });
}

void CurveView::show(ObjectId object) {
    object_ = object;
    hidden_.clear();
    fit();
}

void CurveView::showSpeed(bool on) {
    speed_ = on;
    update();
}

/// Those of the object; of a gesture that has none, those of its zones.
std::vector<Address> CurveView::allNumbers() const {
    const Scene& scene = document_.scene();
    if (!scene.find(object_)) return {};
    std::vector<Address> numbers = keyedNumbers(scene, object_);
    if (numbers.empty() && object_.type() == ObjectType::gesture)
        for (const ObjectId zone : wovenZones(scene, object_)) {
            const auto more = keyedNumbers(scene, zone);
            numbers.insert(numbers.end(), more.begin(), more.end());
        }
    return numbers;
}

std::vector<Address> CurveView::numbers() const {
    auto out = allNumbers();
    std::erase_if(out, [this](const Address& number) { return std::find(hidden_.begin(), hidden_.end(), number) != hidden_.end(); });
    return out;
}

void CurveView::fit() {
    fitted_ = true;
    measure();
    update();
}

void CurveView::measure() {
    if (!fitted_) return;
    low_ = 1e300, high_ = -1e300;
    const FrameRange range = framesOf(document_.scene());
    for (const Address& number : numbers()) {
        const Track& track = trackAt(document_.scene(), number);
        for (int k = 0; k <= 200; ++k) {
            const double v = keyedValueAt(track, range.first + (range.last - range.first) * k / 200.0);
            low_ = std::min(low_, v), high_ = std::max(high_, v);
        }
        for (const Key& key : *track.keys) low_ = std::min(low_, key.value), high_ = std::max(high_, key.value);
    }
    if (low_ > high_) low_ = 0, high_ = 1;
    if (high_ - low_ < 1e-9) low_ -= 0.5, high_ += 0.5;
}

QRectF CurveView::plot() const {
    const FrameRange range = framesOf(document_.scene());
    return {QPointF(rows_.xOf(range.first), margin), QPointF(rows_.xOf(range.last), height() - margin)};
}
double CurveView::yOf(double value) const { return plot().bottom() - (value - low_) / (high_ - low_) * plot().height(); }
double CurveView::valueAt(double y) const { return low_ + (plot().bottom() - y) / plot().height() * (high_ - low_); }
double CurveView::frameAt(double x) const {
    const FrameRange range = framesOf(document_.scene());
    return range.first + (x - plot().left()) / plot().width() * std::max(1, range.last - range.first);
}

QPointF CurveView::placeOf(const Address&, const Key& key) const { return {rows_.xOf(key.frame), yOf(key.value)}; }

QPointF CurveView::handleOf(const Address& number, const Key& key, bool arriving) const {
    const double perFrame = rows_.xOf(1) - rows_.xOf(0);
    const double slope = (arriving ? key.in : key.out) / (high_ - low_) * plot().height() / perFrame;  // pixels up a pixel
    const double length = handleLength / std::sqrt(1 + slope * slope);
    return placeOf(number, key) + QPointF(length, -slope * length) * (arriving ? -1 : 1);
}

const Key* CurveView::keyOf(const Grip& grip) const {
    const Track& track = trackAt(document_.scene(), grip.number);
    if (!track.keyed()) return nullptr;
    for (const Key& key : *track.keys)
        if (key.frame == grip.frame) return &key;
    return nullptr;
}

std::optional<CurveView::Grip> CurveView::gripAt(const QPointF& at) const {
    const auto near = [&](const QPointF& place) { return std::hypot(place.x() - at.x(), place.y() - at.y()) < reach; };
    for (const Address& number : numbers()) {
        const auto& keys = *trackAt(document_.scene(), number).keys;
        for (std::size_t k = 0; k < keys.size(); ++k) {
            if (near(placeOf(number, keys[k]))) return Grip{number, keys[k].frame, Part::key};
            if (keys[k].ease == Ease::free && k + 1 < keys.size() && near(handleOf(number, keys[k], false)))
                return Grip{number, keys[k].frame, Part::leaving};
            if (k > 0 && keys[k - 1].ease == Ease::free && near(handleOf(number, keys[k], true)))
                return Grip{number, keys[k].frame, Part::arriving};
        }
    }
    return std::nullopt;
}

// ---- painting

void CurveView::paintCurve(QPainter& painter, const Address& number, const QColor& colour) const {
    const Track& track = trackAt(document_.scene(), number);
    const auto all = allNumbers();
    const auto which = static_cast<std::size_t>(std::find(all.begin(), all.end(), number) - all.begin());
    QPainterPath value, speed;
    double fastest = 1e-12, fastestFrame = 0;
    for (double x = plot().left(); x <= plot().right(); x += 1) {
        const double slope = std::abs(slopeAt(track, frameAt(x)));
        if (slope > fastest) fastest = slope, fastestFrame = frameAt(x);
    }
    for (double x = plot().left(); x <= plot().right(); x += 1) {
        const double frame = frameAt(x);
        const QPointF v(x, yOf(keyedValueAt(track, frame)));
        const QPointF s(x, plot().center().y() - slopeAt(track, frame) / fastest * plot().height() * 0.45);
        value.elementCount() == 0 ? value.moveTo(v) : value.lineTo(v);
        speed.elementCount() == 0 ? speed.moveTo(s) : speed.lineTo(s);
    }
    painter.setBrush(Qt::NoBrush);
    if (speed_) {
        painter.setPen(QPen(theme::weightLow, 1, Qt::DotLine));
        painter.drawPath(speed);
        if (fastest > 1e-12) paintFastest(painter, number, fastestFrame, slopeAt(track, fastestFrame));
    }
    painter.setPen(QPen(colour, 1.6, dashes[which % 3]));
    painter.drawPath(value);
    const auto& keys = *track.keys;
    for (std::size_t k = 0; k < keys.size(); ++k) {
        const QPointF c = placeOf(number, keys[k]);
        painter.setPen(QPen(theme::quiet, 1));
        for (const bool arriving : {false, true}) {
            const bool free = arriving ? k > 0 && keys[k - 1].ease == Ease::free : keys[k].ease == Ease::free && k + 1 < keys.size();
            if (!free) continue;
            const QPointF end = handleOf(number, keys[k], arriving);
            painter.drawLine(c, end);
            painter.setBrush(theme::ink);
            painter.drawEllipse(end, 3, 3);
        }
        painter.setPen(QPen(theme::ink, 1));
        const bool held = grip_ && grip_->number == number && grip_->frame == keys[k].frame;
        painter.setBrush(held ? theme::gold : theme::ivory);
        painter.drawPolygon(QPolygonF({c + QPointF(0, -5), c + QPointF(5, 0), c + QPointF(0, 5), c + QPointF(-5, 0)}));
    }
}

/// The largest speed as a figure, where the dotted line is farthest from the middle.
void CurveView::paintFastest(QPainter& painter, const Address& number, double frame, double slope) const {
    const std::string& unit = parameterAt(document_.scene(), number).unit;
    const double perSecond = slope * momentAt(document_.scene(), 0).rate;
    const QString text = QString("%1 %2 a second").arg(QString::number(perSecond, 'g', 3), QString::fromStdString(unit)).simplified();
    const double y = plot().center().y() - std::copysign(plot().height() * 0.45, slope);
    QRectF room(0, 0, painter.fontMetrics().horizontalAdvance(text) + 4, 14);
    room.moveCenter({rows_.xOf(frame), y + std::copysign(9, -slope)});
    room.moveLeft(std::clamp(room.left(), plot().left(), std::max(plot().left(), plot().right() - room.width())));
    painter.setPen(theme::quiet);
    painter.drawText(room, Qt::AlignCenter, text);
}

void CurveView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(QRectF(plot().left(), 0, plot().width(), height()), theme::ink);
    painter.setFont(theme::numbers(10));
    for (const double value : {low_, (low_ + high_) / 2, high_}) {
        painter.setPen(theme::line);
        painter.drawLine(QPointF(plot().left(), yOf(value)), QPointF(plot().right(), yOf(value)));
        painter.setPen(theme::quiet);
        painter.drawText(QRectF(plot().left() - 58, yOf(value) - 8, 52, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QString::number(value, 'g', 4));
    }
    const auto all = allNumbers(), shown = numbers();
    for (const Address& number : shown) paintCurve(painter, number, theme::ivory);
    painter.setFont(theme::text(11));
    for (std::size_t k = 0; k < all.size(); ++k) {
        const bool on = std::find(shown.begin(), shown.end(), all[k]) != shown.end();
        const QRectF name(10, 4 + double(k) * 18, plot().left() - 72, 18);
        painter.setPen(on ? theme::ivory : theme::weightLow);
        const QString text = QString::fromStdString(nameOf(document_.scene(), all[k]));
        painter.drawText(name, Qt::AlignVCenter, painter.fontMetrics().elidedText(text, Qt::ElideMiddle, static_cast<int>(name.width())));
    }
    if (all.empty()) {
        painter.setPen(theme::quiet);
        painter.drawText(rect(), Qt::AlignCenter, "Nothing here is keyed. Press K in a setting's field to key it.");
    }
    painter.setPen(QPen(theme::gold, 1.5));
    const double x = rows_.xOf(document_.frame());
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
}

// ---- the hand

void CurveView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const QPointF at = event->position();
    grip_ = gripAt(at);
    document_.seal();
    update();
    if (grip_) return rows_.chooseKeys({{grip_->number, grip_->frame}});
    const auto all = allNumbers();
    const int name = static_cast<int>((at.y() - 4) / 18);
    if (at.x() > plot().left()) moved_ = at.y();
    if (at.x() > plot().left() - 72 || name < 0 || name >= static_cast<int>(all.size())) return;
    const Address& number = all[static_cast<std::size_t>(name)];
    const auto found = std::find(hidden_.begin(), hidden_.end(), number);
    found == hidden_.end() ? hidden_.push_back(number) : void(hidden_.erase(found));
    measure();
}

void CurveView::mouseMoveEvent(QMouseEvent* event) {
    if (moved_ && !fitted_) {
        const double by = valueAt(*moved_) - valueAt(event->position().y());
        low_ += by, high_ += by;
        moved_ = event->position().y();
        update();
    }
    if (!grip_) return;
    const Key* now = keyOf(*grip_);
    if (!now) return;
    Key key = *now;
    const QPointF at = event->position();
    if (grip_->part == Part::key) {
        key.frame = std::round(frameAt(at.x()));
        const Parameter& p = parameterAt(document_.scene(), grip_->number);
        key.value = std::clamp(std::round(valueAt(at.y()) * 1000) / 1000, p.hard.low, p.hard.high);
        if (event->modifiers() & Qt::ShiftModifier) key.value = now->value;
    } else {
        const QPointF away = at - placeOf(grip_->number, key);
        const bool arriving = grip_->part == Part::arriving;
        if (arriving ? away.x() > -1 : away.x() < 1) return;
        const double perFrame = rows_.xOf(1) - rows_.xOf(0);
        const double slope = -away.y() / away.x() * perFrame / plot().height() * (high_ - low_);
        // Both handles stay in line unless Alt is held.
        if (arriving || !(event->modifiers() & Qt::AltModifier)) key.in = slope;
        if (!arriving || !(event->modifiers() & Qt::AltModifier)) key.out = slope;
    }
    const double from = std::exchange(grip_->frame, key.frame);
    document_.edit([&](const Scene& s) { return setKey(s, grip_->number, from, key); });
}

void CurveView::mouseReleaseEvent(QMouseEvent*) {
    moved_.reset();
    if (!std::exchange(grip_, std::nullopt)) return;
    document_.seal();
    measure();
    update();
}

void CurveView::wheelEvent(QWheelEvent* event) {
    const double at = valueAt(event->position().y()), factor = std::pow(0.9985, event->angleDelta().y());
    if (const double span = (high_ - low_) * factor; span < 1e-6 || span > 1e9) return;
    low_ = at - (at - low_) * factor;
    high_ = at + (high_ - at) * factor;
    fitted_ = false;
    update();
}

void CurveView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->position().x() < plot().left()) return fit();
    const double frame = std::round(frameAt(event->position().x()));
    for (const Address& number : numbers()) {
        const Track& track = trackAt(document_.scene(), number);
        if (std::abs(yOf(keyedValueAt(track, frame)) - event->position().y()) > 2 * reach) continue;
        if (keyOf({number, frame, Part::key})) return;
        document_.edit([&](const Scene& s) { return toggleKey(s, number, frame); });
        document_.seal();
        return;
    }
}

void CurveView::contextMenuEvent(QContextMenuEvent* event) {
    const auto grip = gripAt(event->pos());
    if (!grip) return;
    std::vector<KeyPlace> keys{{grip->number, grip->frame}};
    showKeyMenu(document_, keys, copied_, event->globalPos(), this);
    measure();
    update();
}

void CurveView::keyPressEvent(QKeyEvent* event) {
    const auto& keys = rows_.chosenKeys();
    if ((event->key() != Qt::Key_Delete && event->key() != Qt::Key_Backspace) || keys.empty()) return QWidget::keyPressEvent(event);
    const auto gone = keys;
    document_.edit([&](const Scene& s) { return removeKeys(s, gone); });
    document_.seal();
}
