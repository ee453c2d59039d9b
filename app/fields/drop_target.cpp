#include "app/fields/drop_target.h"

#include <algorithm>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QFrame>
#include <QMimeData>
#include <QTimer>

#include "app/document/importing.h"

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

DropTarget::DropTarget(Document& document, QWidget* target, std::vector<ObjectType> types, std::function<void(ObjectId)> taken)
    : QObject(target), document_(document), target_(target), types_(std::move(types)), taken_(std::move(taken)) {
    mark_ = new QFrame(target);
    mark_->setObjectName("dropMark");
    mark_->setStyleSheet("#dropMark { background: transparent; border: 1px dashed #d9a441; border-radius: 4px; }");
    mark_->setAttribute(Qt::WA_TransparentForMouseEvents);
    mark_->hide();
    target->setAcceptDrops(true);
    target->installEventFilter(this);
}

bool DropTarget::takes(ObjectType type) const { return std::find(types_.begin(), types_.end(), type) != types_.end(); }

bool DropTarget::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::DragLeave) mark_->hide();
    if (event->type() != QEvent::DragEnter && event->type() != QEvent::Drop) return QObject::eventFilter(watched, event);
    auto* drop = static_cast<QDropEvent*>(event);
    mark_->hide();
    const auto objects = carried(drop->mimeData());
    const QStringList files = importing::dragged(drop->mimeData());
    std::function<void()> take;
    if (objects.size() == 1 && takes(objects.front().type()))
        take = [this, object = objects.front()] { taken_(object); };
    else if (files.size() == 1 && importing::isShape(files.front()) && takes(ObjectType::shape))
        take = [this, files] {
            document_.asOneStep("Import " + QFileInfo(files.front()).completeBaseName().toStdString(), [&] {
                if (const auto made = importing::make(document_, files); !made.empty()) taken_(made.front());
            });
        };
    if (!take) return QObject::eventFilter(watched, event);
    drop->acceptProposedAction();
    if (event->type() == QEvent::DragEnter) {
        mark_->setGeometry(target_->rect());
        mark_->raise();
        mark_->show();
    } else {
        // The answer may make this widget anew; the drag has to end before.
        QTimer::singleShot(0, this, take);
    }
    return true;
}
