#include "app/time/time_rows.h"

#include <algorithm>
#include <cmath>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <set>

#include "app/theme/theme.h"
#include "core/exchange/export.h"

using namespace gswarm;

namespace {

constexpr int rowHeight = 22, namesWidth = 132, rightMargin = 14;

std::vector<double> keysOf(const Object& object) {
    std::set<double> frames;
    for (const Part& part : object.parts)
        for (const Value& value : part.values)
            if (const auto* numbers = std::get_if<Numbers>(&value))
                for (const Track& track : *numbers)
                    if (track.keyed())
                        for (const Key& key : *track.keys) frames.insert(key.frame);
    return {frames.begin(), frames.end()};
}

}  // namespace

TimeRows::TimeRows(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("timeRows");
    setAccessibleName("Time");
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag in the ruler to scrub. Keys: drag to move, right-click for their ease, Delete.");
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::chosenChanged})
        connect(&document_, signal, this, &TimeRows::refresh);
    refresh();
}

void TimeRows::refresh() {
    setMinimumHeight(rulerHeight + rowHeight * static_cast<int>(rows().size()) + 4);
    update();
}

std::vector<TimeRows::Row> TimeRows::rows() const {
    std::vector<Row> rows;
    const Scene& scene = document_.scene();
    const FrameRange range = framesOf(scene);
    std::set<ObjectId> told;
    const auto addKeyed = [&](ObjectId id) {
        if (!scene.find(id) || !told.insert(id).second) return;
        const auto keys = keysOf(scene.at(id));
        if (!keys.empty()) rows.push_back({id, 0, 0, keys});
    };
    if (const ObjectId swarm = document_.swarm()) {
        for (const ObjectId entry : scene.at(swarm).list("rail")) {
            const Object& gesture = scene.at(referenceOf(scene.at(entry).part("entry"), "gesture"));
            told.insert(gesture.id);
            Row row{gesture.id, double(range.first), double(range.last), keysOf(gesture)};
            const double over =
                choiceOf(gesture.part("when"), "by") == "none" ? 0 : numberAt(gesture.part("when"), "over", document_.frame());
            if (!row.keys.empty()) row.from = row.keys.front() + std::min(over, 0.0), row.to = row.keys.back() + std::max(over, 0.0);
            rows.push_back(row);
            for (const ObjectId weave : gesture.list("weave")) addKeyed(referenceOf(scene.at(weave).part("entry"), "zone"));
        }
    }
    for (const auto& entry : scene.objects) addKeyed(entry.first);
    return rows;
}

double TimeRows::xOf(double frame) const {
    const FrameRange range = framesOf(document_.scene());
    const double length = std::max(1, range.last - range.first);
    return namesWidth + (frame - range.first) / length * (width() - namesWidth - rightMargin);
}

double TimeRows::frameAt(double x) const {
    const FrameRange range = framesOf(document_.scene());
    const double share = (x - namesWidth) / std::max(1, width() - namesWidth - rightMargin);
    return std::round(range.first + share * std::max(1, range.last - range.first));
}

QRectF TimeRows::rowRect(int row) const { return QRectF(0, rulerHeight + row * rowHeight, width(), rowHeight); }

const TimeRows::Row* TimeRows::rowAt(double y, const std::vector<Row>& rows) const {
    const int row = static_cast<int>(std::floor((y - rulerHeight) / rowHeight));
    return row >= 0 && row < static_cast<int>(rows.size()) ? &rows[static_cast<std::size_t>(row)] : nullptr;
}

void TimeRows::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const FrameRange range = framesOf(document_.scene());
    const double rate = momentAt(document_.scene(), 0).rate;
    painter.setFont(theme::numbers(10));
    const double perFrame = xOf(range.first + 1) - xOf(range.first);
    int step = 1;
    for (const int candidate : {1, 2, 5, 10, 25, 50, 100, 250, 500, 1000, 5000})
        if ((step = candidate) * perFrame >= 44) break;
    for (int f = static_cast<int>(std::ceil(double(range.first) / step)) * step; f <= range.last; f += step) {
        const double x = xOf(f);
        painter.setPen(theme::line);
        painter.drawLine(QPointF(x, rulerHeight - 6), QPointF(x, height()));
        painter.setPen(theme::quiet);
        painter.drawText(QRectF(x - 30, 2, 60, rulerHeight - 8), Qt::AlignCenter, QString::number(f));
    }
    const auto all = rows();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Row& row = all[i];
        const QRectF box = rowRect(static_cast<int>(i));
        const Object& object = document_.scene().at(row.object);
        const bool chosen = document_.chosen() == row.object;
        painter.setPen(chosen ? theme::ivory : theme::quiet);
        painter.setFont(theme::text(12, chosen ? QFont::DemiBold : QFont::Normal));
        const bool zone = row.object.type() != ObjectType::gesture;
        const QRectF name(zone ? 22 : 10, box.top(), namesWidth - (zone ? 28 : 16), box.height());
        painter.drawText(
            name, Qt::AlignVCenter,
            painter.fontMetrics().elidedText(QString::fromStdString(object.name), Qt::ElideRight, static_cast<int>(name.width())));
        if (row.to > row.from) {
            painter.setPen(QPen(chosen ? theme::gold : theme::line, 1));
            painter.setBrush(theme::raised);
            painter.drawRoundedRect(QRectF(xOf(row.from), box.top() + 5, xOf(row.to) - xOf(row.from), box.height() - 10), 3, 3);
        }
        for (const double key : row.keys) {
            const QPointF c(xOf(key), box.center().y());
            const bool held = keyObject_ == row.object && keyFrame_ == key;
            painter.setPen(QPen(theme::ink, 1));
            painter.setBrush(held ? theme::gold : theme::ivory);
            painter.drawPolygon(QPolygonF({c + QPointF(0, -5), c + QPointF(5, 0), c + QPointF(0, 5), c + QPointF(-5, 0)}));
        }
    }
    const double x = xOf(document_.frame());
    painter.setPen(QPen(theme::gold, 1.5));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setBrush(theme::gold);
    painter.setPen(Qt::NoPen);
    painter.drawRoundedRect(QRectF(x - 20, 2, 40, 16), 3, 3);
    painter.setPen(theme::ink);
    painter.setFont(theme::numbers(11));
    painter.drawText(QRectF(x - 20, 2, 40, 16), Qt::AlignCenter, QString::number(document_.frame()));
    painter.setPen(theme::quiet);
    painter.setFont(theme::numbers(10));
    painter.drawText(QRectF(10, 2, namesWidth - 20, rulerHeight - 8), Qt::AlignVCenter,
                     QString("%1 s").arg(document_.frame() / rate, 0, 'f', 2));
}

void TimeRows::scrub(double x) {
    const FrameRange range = framesOf(document_.scene());
    document_.setFrame(std::clamp(frameAt(x), double(range.first), double(range.last)));
}

void TimeRows::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const QPointF at = event->position();
    const auto all = rows();
    const Row* row = rowAt(at.y(), all);
    keyObject_ = {};
    if (row)
        for (const double key : row->keys)
            if (std::abs(xOf(key) - at.x()) < 6) {
                keyObject_ = row->object;
                keyFrame_ = key;
                moving_ = true;
                document_.seal();
                update();
                return;
            }
    if (row && at.x() < namesWidth) return document_.click(row->object);
    scrubbing_ = true;
    scrub(at.x());
}

void TimeRows::mouseMoveEvent(QMouseEvent* event) {
    if (scrubbing_) return scrub(event->position().x());
    if (!moving_ || !keyObject_) return;
    const double to = frameAt(event->position().x());
    if (to == keyFrame_) return;
    const double from = std::exchange(keyFrame_, to);
    document_.edit([&](const Scene& s) {
        Edit edit = moveKeys(s, keyObject_, from, to);
        edit.mergeKey = "keys " + toText(keyObject_);
        return edit;
    });
}

void TimeRows::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(moving_, false)) document_.seal();
    scrubbing_ = false;
}

void TimeRows::contextMenuEvent(QContextMenuEvent* event) {
    const auto all = rows();
    const Row* row = rowAt(event->pos().y(), all);
    if (!row) return;
    for (const double key : row->keys) {
        if (std::abs(xOf(key) - event->pos().x()) >= 6) continue;
        const ObjectId object = row->object;
        QMenu menu(this);
        const QAction* eased = menu.addAction("Eased to the next key");
        const QAction* linear = menu.addAction("Straight to the next key");
        const QAction* hold = menu.addAction("Hold until the next key");
        menu.addSeparator();
        const QAction* away = menu.addAction("Delete");
        const QAction* done = menu.exec(event->globalPos());
        if (!done) return;
        if (done == away)
            document_.edit([&](const Scene& s) { return removeKeys(s, object, key); });
        else
            document_.edit([&](const Scene& s) {
                return setKeyEase(s, object, key,
                                  done == eased    ? Ease::eased
                                  : done == linear ? Ease::linear
                                  : done == hold   ? Ease::hold
                                                   : Ease::eased);
            });
        return;
    }
}

void TimeRows::keyPressEvent(QKeyEvent* event) {
    if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && keyObject_) {
        const ObjectId object = std::exchange(keyObject_, {});
        document_.edit([&](const Scene& s) { return removeKeys(s, object, keyFrame_); });
        return;
    }
    QWidget::keyPressEvent(event);
}
