#include "app/scene/scene_list.h"

#include <QApplication>
#include <QDrag>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>

#include "app/fields/drop_target.h"
#include "app/theme/theme.h"
#include "core/edit/key_edits.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

constexpr int switchWidth = 28, shownRole = Qt::UserRole + 1;

/// How a thing is seen, as the name of its icon; empty for what has no such switch.
QString shownAs(const Scene& scene, ObjectId id) {
    if (id.type() == ObjectType::shape) return QString::fromStdString(choiceOf(scene.at(id).part("display"), "as"));
    if (id.type() == ObjectType::swarm) return switchOf(scene.at(id).part("place"), "shown") ? "shown" : "hidden";
    return {};
}

/// Rows with the switch at their right end.
class RowPainter : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyleOptionViewItem text = option;
        const QString shown = index.data(shownRole).toString();
        QStyledItemDelegate::paint(painter, text, index);
        if (shown.isEmpty()) return;
        const QRectF box(option.rect.right() - switchWidth + 6, option.rect.top() + 7, 14, 14);
        painter->setRenderHint(QPainter::Antialiasing);
        theme::paintIcon(*painter, shown, box, shown == "shown" ? theme::ivory : theme::quiet);
    }
};

}  // namespace

SceneList::SceneList(Document& document, QWidget* parent) : QListWidget(parent), document_(document) {
    setObjectName("sceneList");
    setAccessibleName("Scene list");
    setIconSize({14, 14});
    setUniformItemSizes(true);
    setItemDelegate(new RowPainter(this));
    setStyleSheet(
        "QListWidget::item { height: 28px; padding-left: 6px; border-left: 2px solid transparent; } QListWidget::item:selected { "
        "background: #29241d; color: #ece3d2; border-left: 2px solid #d9a441; } QListWidget::item:disabled { color: #a3967f; }");
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &SceneList::refresh);
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (!refreshing_ && !pressed_ && item && idOf(item)) document_.click(idOf(item));
    });
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const Object* object = document_.scene().find(idOf(item));
        if (refreshing_ || !object || item->text() == QString::fromStdString(object->name)) return;
        const std::string name = item->text().toStdString();
        document_.edit([&](const Scene& s) { return rename(s, object->id, name); });
    });
    refresh();
}

ObjectId SceneList::idOf(const QListWidgetItem* item) { return {item->data(Qt::UserRole).toULongLong()}; }

QListWidgetItem* SceneList::itemOf(ObjectId id) const {
    for (int i = 0; i < count(); ++i)
        if (idOf(item(i)) == id) return item(i);
    return nullptr;
}

void SceneList::refresh() {
    refreshing_ = true;
    clear();
    const Scene& scene = document_.scene();
    for (const ObjectType type : {ObjectType::swarm, ObjectType::gesture, ObjectType::zone, ObjectType::mount, ObjectType::shape,
                                  ObjectType::light, ObjectType::camera, ObjectType::project})
        for (const ObjectId id : scene.all(type)) {
            const bool fits = !document_.picking() || document_.pickable(id);
            const QString kind = QString::fromStdString(classOf(type).id);
            auto* item = new QListWidgetItem(theme::icon(kind, fits ? theme::ivory : theme::weightLow),
                                             QString::fromStdString(scene.at(id).name), this);
            item->setData(Qt::UserRole, static_cast<qulonglong>(id.bits));
            item->setFlags(fits ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable : Qt::NoItemFlags);
            const QString shown = shownAs(scene, id);
            item->setData(shownRole, shown);
            const QString label = QString::fromStdString(classOf(type).label);
            item->setToolTip(shown.isEmpty() ? label : label + ", itself " + shown + "; V or a click on the mark changes that");
            if (id == document_.chosen()) setCurrentItem(item);
        }
    refreshing_ = false;
}

void SceneList::mousePressEvent(QMouseEvent* event) {
    // While a thing is picked, the click is an answer and must not move the choice.
    const QListWidgetItem* item = itemAt(event->position().toPoint());
    if (document_.picking() && item) return document_.click(idOf(item));
    if (item && event->position().x() > viewport()->width() - switchWidth && !item->data(shownRole).toString().isEmpty())
        return switchShown(idOf(item));
    if (event->button() == Qt::LeftButton && item) {
        pressed_ = idOf(item);
        pressedAt_ = event->position().toPoint();
    }
    QListWidget::mousePressEvent(event);
}

void SceneList::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_) return QListWidget::mouseMoveEvent(event);
    if ((event->position().toPoint() - pressedAt_).manhattanLength() >= QApplication::startDragDistance())
        dragOut(std::exchange(pressed_, ObjectId{}));
}

void SceneList::mouseReleaseEvent(QMouseEvent* event) {
    QListWidget::mouseReleaseEvent(event);
    if (const ObjectId id = std::exchange(pressed_, ObjectId{})) document_.click(id);
}

void SceneList::dragOut(ObjectId id) {
    const QListWidgetItem* item = itemOf(id);
    if (!item) return;
    auto* drag = new QDrag(this);
    drag->setMimeData(carrying(id));
    const QString name = item->text();
    QPixmap label(fontMetrics().horizontalAdvance(name) + 34, 26);
    label.fill(theme::raised);
    QPainter painter(&label);
    item->icon().paint(&painter, QRect(6, 6, 14, 14));
    painter.setPen(theme::ivory);
    painter.setFont(font());
    painter.drawText(label.rect().adjusted(26, 0, 0, 0), Qt::AlignVCenter, name);
    painter.end();
    drag->setPixmap(label);
    drag->setHotSpot({-10, 10});
    drag->exec(Qt::CopyAction);
    refresh();  // pressing had moved the row that is marked
}

void SceneList::switchShown(ObjectId id) {
    const Scene& scene = document_.scene();
    if (id.type() == ObjectType::swarm)
        document_.edit([&](const Scene& s) {
            return setSwitch(s, addressOf(s, id, "shown"), !switchAt(s, s.at(id).part("place"), "shown", document_.frame()),
                             document_.frame());
        });
    if (id.type() == ObjectType::shape) {
        const QString now = shownAs(scene, id);
        document_.setValue(addressOf(scene, id, "display-as"), std::string(now == "shown"    ? "dimmed"
                                                                           : now == "dimmed" ? "hidden"
                                                                                             : "shown"));
    }
    document_.seal();
}

void SceneList::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_V && event->modifiers() == Qt::NoModifier && currentItem()) return switchShown(idOf(currentItem()));
    if (event->key() == Qt::Key_Delete && currentItem()) {
        const ObjectId id = idOf(currentItem());
        document_.edit([&](const Scene& s) { return remove(s, id); });
        return;
    }
    QListWidget::keyPressEvent(event);
}
