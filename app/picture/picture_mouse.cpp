// What the mouse does in the picture: picking, choosing instances, handles, turning the view.
#include "app/picture/picture.h"

#include <algorithm>
#include <cmath>
#include <QMimeData>
#include <QMouseEvent>
#include <QTimer>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/document/importing.h"
#include "app/document/shown_zones.h"
#include "app/fields/drop_target.h"
#include "app/picture/hit.h"
#include "app/picture/traced_view.h"
#include "app/picture/view_choices.h"
#include "app/scene/scene_drop.h"
#include "core/flow/home_plan.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"

using namespace gswarm;

/// What is drawn may be older than the scene: what has gone since lies nowhere.
std::optional<hit::Instance> Picture::instanceAt(QPointF pixel) const {
    const auto evaluated = evaluation_.latest();
    const auto found = evaluated ? hit::instanceAt(*evaluated, view_, size(), pixel) : std::nullopt;
    const bool there = found && document_.scene().find(found->swarm) && document_.scene().find(found->shape);
    return there ? found : std::nullopt;
}

ObjectId Picture::backdropAt(QPointF pixel) const {
    const auto evaluated = evaluation_.latest();
    const ObjectId found = evaluated ? hit::backdropAt(*evaluated, view_, size(), pixel) : ObjectId{};
    return document_.scene().find(found) ? found : ObjectId{};
}

/// A lamp is taken by its place; its cone may lie over anything.
ObjectId Picture::lampMarkAt(QPointF pixel) const {
    if (!showsHandles()) return {};
    for (const ObjectId light : document_.scene().all(ObjectType::light)) {
        const auto lamp = lampAt(document_.scene(), light, document_.frame(), document_.store());
        if (!lamp || isRepeated(document_.scene(), light)) continue;
        if (const auto at = view_.project(lamp->position, size()); at && QLineF(*at, pixel).length() < 9) return light;
    }
    return {};
}

ObjectId Picture::objectAt(QPointF pixel) const {
    if (const ObjectId lamp = lampMarkAt(pixel); lamp && (!document_.picking() || document_.pickable(lamp))) return lamp;
    if (document_.picking())
        for (const ObjectId zone : shownZones(document_))
            for (const auto& line : contours(zone, false))
                for (const auto& place : line)
                    if (const auto at = view_.project(place, size()); at && QLineF(*at, pixel).length() < 8 && document_.pickable(zone))
                        return zone;
    const ObjectId backdrop = backdropAt(pixel);
    if (backdrop && document_.pickable(backdrop)) return backdrop;
    const auto found = instanceAt(pixel);
    if (found) return document_.pickable(found->shape) ? found->shape : found->swarm;
    return backdrop;
}

int Picture::tileAt(QPointF pixel) const {
    const int column = std::clamp(static_cast<int>(pixel.x() * 3 / width()), 0, 2);
    return std::clamp(static_cast<int>(pixel.y() * 3 / height()), 0, 2) * 3 + column;
}

/// The variation under the pointer becomes the number's value.
void Picture::keepVariation(int tile) {
    const auto evaluated = evaluation_.latest();
    const auto variations = document_.session().variations();
    if (!variations || tile >= static_cast<int>(evaluated->variations.size())) return;
    const double value = evaluated->variations[static_cast<std::size_t>(tile)].value;
    const Scene before = document_.scene();
    document_.seal();
    document_.setNumber(variations->number, value);
    document_.seal();
    document_.session().keepVariation(before);
}

/// A click chooses an instance, and with it its swarm where another one was at work; the settings of a gesture stay.
void Picture::chooseAt(QPointF pixel, bool add) {
    if (!evaluation_.latest()) return;
    if (const ObjectId lamp = lampMarkAt(pixel)) return document_.click(lamp);
    Session& session = document_.session();
    const auto found = instanceAt(pixel);
    if (!found) {
        if (const ObjectId backdrop = backdropAt(pixel)) return document_.click(backdrop);
        if (!add) session.chooseInstances({}, {});
        return;
    }
    const auto result = evaluation_.resultOf(found->swarm);
    const std::uint64_t id = idsOfRows(result->home, {found->row}).front();
    if (add)
        session.toggleInstance(found->swarm, id);
    else
        session.chooseInstances(found->swarm, {id});
    const bool stays = document_.chosen().type() == ObjectType::gesture && found->swarm == document_.swarm();
    if (!stays) document_.click(found->swarm);
}

void Picture::chooseInBand(bool add) {
    const ObjectId swarm = document_.swarm();
    const auto result = evaluation_.resultOf(swarm);
    if (!result) return;
    auto ids = idsOfRows(result->home, hit::instancesIn(*result, view_, size(), band_));
    const auto& before = document_.session().instances();
    if (add && before.swarm == swarm) ids.insert(ids.end(), before.ids.begin(), before.ids.end());
    document_.session().chooseInstances(swarm, std::move(ids));
}

void Picture::mousePressEvent(QMouseEvent* event) {
    last_ = pressed_ = event->position();
    leftHeld_ = false;
    if (event->button() != Qt::LeftButton) return;
    if (tracedSeen() && traced_->press(last_)) return;
    if (document_.picking()) {
        if (const ObjectId object = objectAt(last_)) document_.click(object);
        return;
    }
    if (varying()) return keepVariation(tileAt(last_));
    if (showsHandles())
        for (const auto& handle : handles()) {
            const auto at = view_.project(handle.place, size());
            if (!at || QLineF(*at, last_).length() > 9) continue;
            drag_ = handles::begin(document_.scene(), document_.handled(), handle, last_, document_.frame());
            document_.seal();
            update();
            return;
        }
    leftHeld_ = true;
}

void Picture::mouseMoveEvent(QMouseEvent* event) {
    const QPointF now = event->position(), gone = now - last_;
    if (traced_->move(now)) return;
    setCursor(traced_->onDivider(now) ? Qt::SplitHCursor : traced_->framesRegion() ? Qt::CrossCursor : Qt::ArrowCursor);
    if (varying() && !event->buttons() && tileAt(now) != tileUnder_) {
        tileUnder_ = tileAt(now);
        update();
    }
    if (drag_ && event->buttons() & Qt::LeftButton) {
        document_.edit([&](const Scene& scene) {
            return handles::edited(scene, *drag_, now, document_.frame(), view_, size(), handleMode(), document_.store());
        });
        return;
    }
    if (leftHeld_ && (!band_.isNull() || QLineF(now, pressed_).length() > 5)) {
        band_ = QRectF(pressed_, now).normalized();
        update();
    }
    if (event->buttons() & (Qt::RightButton | Qt::MiddleButton)) {
        if (event->buttons() & Qt::MiddleButton || event->modifiers() & Qt::ShiftModifier)
            view_.move(gone, size());
        else
            view_.turn(gone);
        viewMoved();
        requestDraw(Care::coarse);
    }
    last_ = now;
}

/// A right click that turned nothing asks what can be done with what lies there.
void Picture::askMenu(QPointF pixel) {
    if (document_.picking() || varying()) return;
    const ObjectId thing = objectAt(pixel);
    const auto& selected = document_.selection();
    if (thing && std::find(selected.begin(), selected.end(), thing) == selected.end()) document_.click(thing);
    emit menuAsked(mapToGlobal(pixel.toPoint()));
}

void Picture::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton && choices_->holdsCamera()) document_.seal();
    if (event->button() == Qt::RightButton && QLineF(event->position(), pressed_).length() < 4) return askMenu(event->position());
    if (event->button() != Qt::LeftButton || traced_->release()) return;
    const bool add = event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier);
    if (drag_) {
        drag_.reset();
        document_.seal();
    } else if (leftHeld_ && !band_.isNull()) {
        chooseInBand(add);
    } else if (leftHeld_) {
        chooseAt(event->position(), add);
    }
    leftHeld_ = false;
    band_ = {};
    update();
}

/// A double click on an instance shows its tally in the cards, or goes inside where it is another swarm.
void Picture::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || document_.picking() || varying()) return mousePressEvent(event);
    const auto found = instanceAt(event->position());
    if (!found) return;
    const std::uint64_t id = idsOfRows(evaluation_.resultOf(found->swarm)->home, {found->row}).front();
    document_.session().chooseInstances(found->swarm, {id});
    if (found->shape.type() == ObjectType::swarm) return document_.click(found->shape);
    document_.session().tally(id);
}

void Picture::wheelEvent(QWheelEvent* event) {
    const QPointF at = event->position();
    const QPointF toward(at.x() / width() * 2 - 1, 1 - at.y() / height() * 2);
    view_.zoom(std::pow(0.999f, static_cast<float>(event->angleDelta().y())), toward,
               static_cast<float>(width()) / static_cast<float>(height()));
    viewMoved();
    requestDraw(Care::coarse);
}

// ---- dropping

void Picture::dragEnterEvent(QDragEnterEvent* event) {
    if (varying()) return;
    if (!carried(event->mimeData()).empty() || !importing::dragged(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

/// Where the ray through a pixel meets the ground, or the level plane through what the view turns about; not too far away.
glm::dvec3 Picture::placeAt(QPointF pixel) const {
    const auto [from, along] = view_.ray(pixel, size());
    const float reach = 4 * view_.distance;
    for (const float level : {0.f, view_.target.y})
        if (const float t = (level - from.y) / along.y; std::isfinite(t) && t > 0 && t < reach) return from + along * t;
    return view_.target;
}

ObjectId Picture::stockThatRepeats(ObjectId swarm, ObjectId shape) const {
    for (const ObjectId entry : document_.scene().at(swarm).list("stock"))
        if (referenceOf(document_.scene().at(entry).part("entry"), "shape") == shape) return entry;
    return swarm;
}

/// On an instance: as on its swarm in the list. A file on nothing stands there as a new swarm.
void Picture::dropEvent(QDropEvent* event) {
    const auto things = carried(event->mimeData());
    const QStringList files = importing::dragged(event->mimeData());
    if (things.empty() && files.isEmpty()) return event->ignore();
    event->acceptProposedAction();
    const QPointF pixel = event->position();
    const auto found = instanceAt(pixel);
    ObjectId onto = found ? found->swarm : ObjectId{};
    // A material is for what lies there alone.
    if (!things.empty() && things.front().type() == ObjectType::material)
        onto = found ? stockThatRepeats(found->swarm, found->shape) : backdropAt(pixel);
    // The drag has to end before a question is asked.
    QTimer::singleShot(0, this, [this, things, files, onto, pixel] {
        const QPoint at = mapToGlobal(pixel.toPoint());
        if (!files.isEmpty())
            return onto ? dropFiles(document_, files, onto, at, window()) : importing::add(document_, files, placeAt(pixel));
        if (onto) dropThings(document_, things, {onto, onto, false}, at, window());
    });
}
