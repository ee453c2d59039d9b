#include "app/time/time_rows.h"

#include <algorithm>
#include <cmath>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QPainter>
#include <set>

#include "app/fields/key_menu.h"
#include "app/sound/sound_waves.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

namespace {

constexpr int rowHeight = 22, namesWidth = 164, rightMargin = 14, markReach = 6;

std::vector<double> framesOf(const Scene& scene, const std::vector<Address>& numbers) {
    std::set<double> frames;
    for (const Address& number : numbers)
        for (const Key& key : *trackAt(scene, number).keys) frames.insert(key.frame);
    return {frames.begin(), frames.end()};
}

/// "position x", without the object's name.
QString shortName(const Scene& scene, const Address& number) {
    const std::string whole = nameOf(scene, number);
    return QString::fromStdString(whole.substr(scene.at(number.object).name.size() + 1));
}

}  // namespace

TimeRows::TimeRows(Document& document, const SoundWaves& waves, QWidget* parent) : QWidget(parent), document_(document), waves_(waves) {
    setObjectName("timeRows");
    setAccessibleName("Time");
    spoken::tell(this, spoken::Role::table);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(
        "Drag in the ruler to scrub. Keys: click or draw a band to choose, drag to move (they catch on the onsets of sounds; Ctrl goes "
        "past "
        "them), Alt-drag to stretch, right-click for more.");
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::chosenChanged})
        connect(&document_, signal, this, &TimeRows::refresh);
    connect(&waves_, &SoundWaves::changed, this, &TimeRows::refresh);
    refresh();
}

int TimeRows::headHeight() const { return rulerHeight + (waves_.any() ? waveHeight : 0); }

void TimeRows::refreshHead() {
    if (std::exchange(head_, headHeight()) != head_) emit headChanged();
}

void TimeRows::refresh() {
    std::erase_if(chosen_, [&](const KeyPlace& key) {
        if (!document_.scene().find(key.number.object)) return true;
        const auto numbers = keyedNumbers(document_.scene(), key.number.object);
        if (std::find(numbers.begin(), numbers.end(), key.number) == numbers.end()) return true;
        const auto& keys = *trackAt(document_.scene(), key.number).keys;
        return std::none_of(keys.begin(), keys.end(), [&](const Key& k) { return k.frame == key.frame; });
    });
    refreshHead();
    setMinimumHeight(headHeight() + rowHeight * static_cast<int>(rows().size()) + 4);
    update();
}

void TimeRows::chooseKeys(std::vector<KeyPlace> keys) {
    chosen_ = std::move(keys);
    update();
}

void TimeRows::showReady(int first, std::vector<bool> ready) {
    readyFirst_ = first;
    ready_ = std::move(ready);
    update();
}

std::vector<TimeRows::Row> TimeRows::rows() const {
    std::vector<Row> rows;
    const Scene& scene = document_.scene();
    const FrameRange range = gswarm::framesOf(scene);
    std::set<ObjectId> told;
    const auto addNumbers = [&](ObjectId id, const std::vector<Address>& numbers) {
        for (const Address& number : numbers) rows.push_back({id, number, 0, 0, framesOf(scene, {number})});
    };
    const auto addKeyed = [&](ObjectId id) {
        if (!scene.find(id) || !told.insert(id).second) return;
        const auto numbers = keyedNumbers(scene, id);
        if (numbers.empty()) return;
        rows.push_back({id, std::nullopt, 0, 0, framesOf(scene, numbers)});
        addNumbers(id, numbers);
    };
    if (const ObjectId swarm = document_.swarm()) {
        for (const ObjectId entry : scene.at(swarm).list("rail")) {
            const Object* found = scene.find(referenceOf(scene.at(entry).part("entry"), "gesture"));
            if (!found || !told.insert(found->id).second) continue;
            const Object& gesture = *found;
            const auto numbers = keyedNumbers(scene, gesture.id);
            Row row{gesture.id, std::nullopt, double(range.first), double(range.last), framesOf(scene, numbers)};
            const double over =
                choiceOf(gesture.part("when"), "by") == "none" ? 0 : numberAt(scene, gesture.part("when"), "over", document_.frame());
            if (!row.keys.empty()) row.from = row.keys.front() + std::min(over, 0.0), row.to = row.keys.back() + std::max(over, 0.0);
            rows.push_back(row);
            addNumbers(gesture.id, numbers);
            for (const ObjectId zone : wovenZones(scene, gesture.id)) addKeyed(zone);
        }
    }
    for (const auto& entry : scene.objects) addKeyed(entry.first);
    return rows;
}

double TimeRows::xOf(double frame) const {
    const FrameRange range = gswarm::framesOf(document_.scene());
    const double length = std::max(1, range.last - range.first);
    return namesWidth + (frame - range.first) / length * (width() - namesWidth - rightMargin);
}

double TimeRows::frameAt(double x) const { return std::round(placeAt(x)); }

double TimeRows::placeAt(double x) const {
    const FrameRange range = gswarm::framesOf(document_.scene());
    const double share = (x - namesWidth) / std::max(1, width() - namesWidth - rightMargin);
    return range.first + share * std::max(1, range.last - range.first);
}

double TimeRows::snappedFrameAt(double x) const {
    const double place = placeAt(x), reach = markReach / std::max(1e-6, xOf(1) - xOf(0));
    const auto onset = waves_.onsetNear(place, reach);
    return onset ? std::round(*onset) : std::round(place);
}

QRectF TimeRows::rowRect(int row) const { return QRectF(0, headHeight() + row * rowHeight, width(), rowHeight); }

const TimeRows::Row* TimeRows::rowAt(double y, const std::vector<Row>& rows) const {
    const int row = static_cast<int>(std::floor((y - headHeight()) / rowHeight));
    return row >= 0 && row < static_cast<int>(rows.size()) ? &rows[static_cast<std::size_t>(row)] : nullptr;
}

bool TimeRows::chosen(const KeyPlace& key) const { return std::find(chosen_.begin(), chosen_.end(), key) != chosen_.end(); }

/// The keys behind a diamond: of one number, or of all of the object.
std::vector<KeyPlace> TimeRows::keysOf(const Row& row, double frame) const {
    if (row.number) return {{*row.number, frame}};
    return gswarm::keysAt(document_.scene(), row.object, frame);
}

std::vector<KeyPlace> TimeRows::keysAt(const QPointF& at, const std::vector<Row>& rows) const {
    const Row* row = rowAt(at.y(), rows);
    if (!row) return {};
    for (const double frame : row->keys)
        if (std::abs(xOf(frame) - at.x()) < markReach) return keysOf(*row, frame);
    return {};
}

std::vector<KeyPlace> TimeRows::keysIn(const QRectF& band) const {
    std::vector<KeyPlace> keys;
    const auto all = rows();
    for (std::size_t r = 0; r < all.size(); ++r) {
        if (!rowRect(static_cast<int>(r)).intersects(band)) continue;
        for (const double frame : all[r].keys) {
            if (xOf(frame) < band.left() || xOf(frame) > band.right()) continue;
            for (const KeyPlace& key : keysOf(all[r], frame))
                if (std::find(keys.begin(), keys.end(), key) == keys.end()) keys.push_back(key);
        }
    }
    return keys;
}

// ---- painting

void TimeRows::paintRuler(QPainter& painter) const {
    const FrameRange range = gswarm::framesOf(document_.scene());
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
    for (std::size_t i = 0; i < ready_.size(); ++i) {
        const double x = xOf(readyFirst_ + double(i));
        painter.fillRect(QRectF(x, rulerHeight - 3, std::max(perFrame, 1.0), 2), ready_[i] ? theme::quiet : theme::line);
    }
}

void TimeRows::paintRow(QPainter& painter, const Row& row, const QRectF& box) const {
    const Scene& scene = document_.scene();
    const bool own = document_.chosen() == row.object;
    painter.setPen(own && !row.number ? theme::ivory : theme::quiet);
    painter.setFont(theme::text(row.number ? 11 : 12, own && !row.number ? QFont::DemiBold : QFont::Normal));
    const double indent = row.number ? 30 : row.object.type() == ObjectType::gesture ? 10 : 20;
    const QRectF name(indent, box.top(), namesWidth - indent - 6, box.height());
    const QString text = row.number ? shortName(scene, *row.number) : QString::fromStdString(scene.at(row.object).name);
    painter.drawText(name, Qt::AlignVCenter, painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(name.width())));
    if (row.to > row.from) {
        painter.setPen(QPen(own ? theme::gold : theme::line, 1));
        painter.setBrush(theme::raised);
        painter.drawRoundedRect(QRectF(xOf(row.from), box.top() + 5, xOf(row.to) - xOf(row.from), box.height() - 10), 3, 3);
    }
    const double size = row.number ? 4 : 5;
    for (const double frame : row.keys) {
        const auto keys = keysOf(row, frame);
        const bool held = !keys.empty() && std::all_of(keys.begin(), keys.end(), [this](const KeyPlace& key) { return chosen(key); });
        const QPointF c(xOf(frame), box.center().y());
        painter.setPen(QPen(theme::ink, 1));
        painter.setBrush(held ? theme::gold : row.number ? theme::quiet : theme::ivory);
        painter.drawPolygon(QPolygonF({c + QPointF(0, -size), c + QPointF(size, 0), c + QPointF(0, size), c + QPointF(-size, 0)}));
    }
}

void TimeRows::paintHead(QPainter& painter) const {
    const double x = xOf(document_.frame()), rate = momentAt(document_.scene(), 0).rate;
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

void TimeRows::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintRuler(painter);
    if (waves_.any()) {
        const FrameRange range = gswarm::framesOf(document_.scene());
        waves_.paint(painter, QRectF(namesWidth, rulerHeight, width() - namesWidth - rightMargin, waveHeight), range.first,
                     std::max(range.first + 1, range.last), namesWidth);
    }
    const auto all = rows();
    for (std::size_t i = 0; i < all.size(); ++i) paintRow(painter, all[i], rowRect(static_cast<int>(i)));
    paintHead(painter);
    if (does_ != Does::bands) return;
    painter.setPen(QPen(theme::ivory, 1, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(pressed_, now_).normalized());
}

// ---- the hand

void TimeRows::scrub(double x) {
    const FrameRange range = gswarm::framesOf(document_.scene());
    const double frame = std::clamp(frameAt(x), double(range.first), double(range.last));
    if (frame != document_.frame()) emit scrubbed(frame);
    document_.setFrame(frame);
}

void TimeRows::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = now_ = event->position();
    if (pressed_.y() < headHeight()) {
        does_ = Does::scrubs;
        return scrub(pressed_.x());
    }
    const auto all = rows();
    const auto hit = keysAt(pressed_, all);
    const bool more = event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier);
    if (!hit.empty()) {
        if (more)
            for (const KeyPlace& key : hit) chosen(key) ? void(std::erase(chosen_, key)) : chosen_.push_back(key);
        else if (!chosen(hit.front()))
            chosen_ = hit;
        grabbed_ = hit.front().frame;
        does_ = event->modifiers() & Qt::AltModifier ? Does::stretches : Does::moves;
        document_.seal();
        return update();
    }
    if (!more) chosen_.clear();
    const Row* row = rowAt(pressed_.y(), all);
    if (row && pressed_.x() < namesWidth) return document_.click(row->object);
    does_ = Does::bands;
    update();
}

void TimeRows::moveChosen(double by) {
    if (by == 0 || chosen_.empty()) return;
    // The keys that are moved are chosen at their new frames.
    auto moved = chosen_;
    for (KeyPlace& key : moved) key.frame += by;
    const auto before = std::exchange(chosen_, moved);
    document_.edit([&](const Scene& s) {
        Edit edit = moveKeys(s, before, by);
        edit.mergeKey = "move keys";
        return edit;
    });
}

void TimeRows::mouseMoveEvent(QMouseEvent* event) {
    now_ = event->position();
    if (does_ == Does::scrubs) return scrub(now_.x());
    if (does_ == Does::bands) return update();
    if (does_ == Does::nothing || chosen_.empty()) return;
    const double to = event->modifiers() & Qt::ControlModifier ? frameAt(now_.x()) : snappedFrameAt(now_.x());
    if (to == grabbed_) return;
    if (does_ == Does::moves) {
        moveChosen(to - std::exchange(grabbed_, to));
        return;
    }
    double first = chosen_.front().frame;
    for (const KeyPlace& key : chosen_) first = std::min(first, key.frame);
    if (grabbed_ <= first || to <= first) return;
    const double factor = (to - first) / (grabbed_ - first);
    grabbed_ = to;
    auto stretched = chosen_;
    for (KeyPlace& key : stretched) key.frame = std::round(first + (key.frame - first) * factor);
    const auto before = std::exchange(chosen_, stretched);
    document_.edit([&](const Scene& s) {
        Edit edit = stretchKeys(s, before, first, factor);
        edit.mergeKey = "stretch keys";
        return edit;
    });
}

void TimeRows::mouseReleaseEvent(QMouseEvent*) {
    const Does did = std::exchange(does_, Does::nothing);
    if (did == Does::moves || did == Does::stretches) document_.seal();
    if (did != Does::bands) return;
    for (const KeyPlace& key : keysIn(QRectF(pressed_, now_).normalized()))
        if (!chosen(key)) chosen_.push_back(key);
    update();
}

void TimeRows::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto all = rows();
    const Row* row = rowAt(event->position().y(), all);
    if (row && event->position().x() < namesWidth) emit curvesAsked(row->object);
}

void TimeRows::contextMenuEvent(QContextMenuEvent* event) {
    const auto hit = keysAt(event->pos(), rows());
    if (hit.empty()) return;
    if (!chosen(hit.front())) chooseKeys(hit);
    const ObjectId object = hit.front().number.object;
    auto keys = chosen_;
    const bool curves = showKeyMenu(document_, keys, copied_, event->globalPos(), this);
    chooseKeys(keys);
    if (curves) emit curvesAsked(object);
}

/// With the keyboard here, Ctrl+A means the keys and not the instances.
bool TimeRows::event(QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride) return QWidget::event(event);
    if (static_cast<QKeyEvent*>(event)->matches(QKeySequence::SelectAll)) event->accept();
    return QWidget::event(event);
}

void TimeRows::keyPressEvent(QKeyEvent* event) {
    const auto edit = [this](const Document::MakeEdit& make) {
        document_.edit(make);
        document_.seal();
    };
    if (event->matches(QKeySequence::Copy) && !chosen_.empty()) {
        copied_ = copyKeys(document_.scene(), chosen_);
        return;
    }
    if (event->matches(QKeySequence::Paste) && !copied_.empty()) {
        // Onto what is chosen, where it has numbers of these names; else onto where they came from.
        const ObjectId chosen = document_.chosen();
        const bool elsewhere = chosen && chosen.type() == copied_.numbers.front().from.object.type();
        return edit([&](const Scene& s) { return pasteKeys(s, copied_, elsewhere ? chosen : ObjectId{}, document_.frame()); });
    }
    if (event->matches(QKeySequence::SelectAll)) return chooseKeys(keysIn(QRectF(rect())));
    if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && !chosen_.empty()) {
        const auto keys = std::exchange(chosen_, {});
        return edit([&](const Scene& s) { return removeKeys(s, keys); });
    }
    if (event->modifiers() & Qt::AltModifier && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right))
        return moveChosen(event->key() == Qt::Key_Left ? -1 : 1);
    if (event->key() == Qt::Key_Escape) return chooseKeys({});
    QWidget::keyPressEvent(event);
}
