#include "app/fields/drop_target.h"

#include <algorithm>
#include <QDragEnterEvent>
#include <QFrame>
#include <QMimeData>
#include <QTimer>

using namespace gswarm;

namespace {

const QString objectType = "application/x-gilded-swarm-object";

}  // namespace

QMimeData* carrying(const std::vector<ObjectId>& objects) {
    QByteArray ids;
    for (const ObjectId id : objects) ids += QByteArray::fromStdString(toText(id)) + ' ';
    auto* data = new QMimeData;
    data->setData(objectType, ids);
    return data;
}

std::vector<ObjectId> carried(const QMimeData* data) {
    std::vector<ObjectId> objects;
    for (const QByteArray& text : data->data(objectType).split(' '))
        if (const ObjectId id = parseObjectId(text.toStdString())) objects.push_back(id);
    return objects;
}

DropTarget::DropTarget(QWidget* target, std::vector<ObjectType> types, std::function<void(ObjectId)> taken)
    : QObject(target), target_(target), types_(std::move(types)), taken_(std::move(taken)) {
    mark_ = new QFrame(target);
    mark_->setObjectName("dropMark");
    mark_->setStyleSheet("#dropMark { background: transparent; border: 1px dashed #d9a441; border-radius: 4px; }");
    mark_->setAttribute(Qt::WA_TransparentForMouseEvents);
    mark_->hide();
    target->setAcceptDrops(true);
    target->installEventFilter(this);
}

bool DropTarget::fits(ObjectId object) const { return object && std::find(types_.begin(), types_.end(), object.type()) != types_.end(); }

bool DropTarget::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::DragLeave) mark_->hide();
    if (event->type() != QEvent::DragEnter && event->type() != QEvent::Drop) return QObject::eventFilter(watched, event);
    auto* drop = static_cast<QDropEvent*>(event);
    const auto objects = carried(drop->mimeData());
    const ObjectId object = objects.size() == 1 ? objects.front() : ObjectId{};
    mark_->hide();
    if (!fits(object)) return QObject::eventFilter(watched, event);
    drop->acceptProposedAction();
    if (event->type() == QEvent::DragEnter) {
        mark_->setGeometry(target_->rect());
        mark_->raise();
        mark_->show();
    } else {
        // The answer may make this widget anew; the drag has to end before.
        QTimer::singleShot(0, this, [this, object] { taken_(object); });
    }
    return true;
}
