#include "app/scene/scene_list.h"

#include <algorithm>
#include <QApplication>
#include <QDrag>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTimer>

#include "app/document/importing.h"
#include "app/fields/drop_target.h"
#include "app/scene/scene_drop.h"
#include "app/scene/shown_as.h"
#include "app/theme/theme.h"
#include "core/base/text.h"
#include "core/edit/arrange_edits.h"

using namespace gswarm;

namespace {

constexpr int switchWidth = 28, shownRole = Qt::UserRole + 1, sharedRole = Qt::UserRole + 2;
constexpr std::size_t manySwarms = 3;  ///< from so many on they begin folded

/// Rows with the marks at their right end: that it is shared, and whether it is seen itself.
class RowPainter : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyleOptionViewItem text = option;
        const QString shown = index.data(shownRole).toString();
        const bool shared = index.data(sharedRole).toBool();
        text.rect.setRight(option.rect.right() - (shown.isEmpty() ? 4 : switchWidth) - (shared ? 18 : 0));
        QStyledItemDelegate::paint(painter, text, index);
        painter->setRenderHint(QPainter::Antialiasing);
        if (shared) theme::paintIcon(*painter, "shared", QRectF(text.rect.right() + 3, option.rect.top() + 7, 12, 12), theme::quiet);
        if (shown.isEmpty()) return;
        const QRectF box(option.rect.right() - switchWidth + 6, option.rect.top() + 6, 14, 14);
        theme::paintIcon(*painter, shown, box, shown == "shown" ? theme::ivory : theme::quiet);
    }
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {60, 26}; }
};

template <class Work>
void eachItem(const QTreeWidget& tree, const Work& work) {
    for (QTreeWidgetItemIterator it(const_cast<QTreeWidget*>(&tree)); *it; ++it) work(*it);
}

/// Lights are told apart by their kinds.
QString iconName(const Object& object) {
    const QString type = QString::fromStdString(classOf(object.id.type()).id);
    return object.id.type() == ObjectType::light ? type + "-" + QString::fromStdString(object.part("light").kind->id) : type;
}

}  // namespace

SceneList::SceneList(Document& document, QWidget* parent) : QTreeWidget(parent), document_(document) {
    setObjectName("sceneList");
    setAccessibleName("Scene list");
    setHeaderHidden(true);
    setIconSize({14, 14});
    setIndentation(15);
    setUniformRowHeights(true);
    setExpandsOnDoubleClick(false);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setEditTriggers(QAbstractItemView::EditKeyPressed);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    header()->setStretchLastSection(true);
    setItemDelegate(new RowPainter(this));
    setAcceptDrops(true);
    setDropIndicatorShown(true);
    setStyleSheet(
        "QTreeView::item { height: 26px; padding-left: 2px; } QTreeView::item:selected { background: #29241d; color: #ece3d2; } "
        "QTreeView::item:disabled { color: #a3967f; } QTreeView QLineEdit { min-height: 20px; max-height: 20px; }");
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &SceneList::refresh);
    connect(this, &QTreeWidget::itemSelectionChanged, this, [this] {
        if (refreshing_ || pressed_) return;
        std::vector<ObjectId> ids;
        for (const QTreeWidgetItem* item : selectedItems())
            if (std::find(ids.begin(), ids.end(), idOf(item)) == ids.end()) ids.push_back(idOf(item));
        // What the keyboard is on is what the others are changed with.
        if (const ObjectId current = currentItem() ? idOf(currentItem()) : ObjectId{}; std::erase(ids, current) > 0) ids.push_back(current);
        if (ids.size() == 1)
            document_.click(ids.front());
        else if (!ids.empty() && !document_.picking())
            document_.select(ids);
    });
    connect(this, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
        const Object* object = document_.scene().find(idOf(item));
        if (refreshing_ || !object || item->text(0) == QString::fromStdString(object->name)) return;
        const std::string name = item->text(0).toStdString();
        document_.edit([&](const Scene& s) { return gswarm::rename(s, object->id, name); });
        refresh();
    });
    connect(this, &QTreeWidget::itemCollapsed, this, [this](QTreeWidgetItem* item) {
        if (!refreshing_) folded_.insert(idOf(item));
    });
    connect(this, &QTreeWidget::itemExpanded, this, [this](QTreeWidgetItem* item) {
        if (!refreshing_) folded_.erase(idOf(item));
    });
    refresh();
}

ObjectId SceneList::idOf(const QTreeWidgetItem* item) { return {item->data(0, Qt::UserRole).toULongLong()}; }

QTreeWidgetItem* SceneList::itemOf(ObjectId id) const {
    QTreeWidgetItem* found = nullptr;
    eachItem(*this, [&](QTreeWidgetItem* item) {
        if (!found && !item->isHidden() && idOf(item) == id) found = item;
    });
    return found;
}

void SceneList::build(const std::vector<OutlineRow>& rows, QTreeWidgetItem* under) {
    for (const OutlineRow& row : rows) {
        auto* item = under ? new QTreeWidgetItem(under) : new QTreeWidgetItem(this);
        item->setData(0, Qt::UserRole, static_cast<qulonglong>(row.id.bits));
        item->setData(0, sharedRole, row.shared);
        build(row.under, item);
        item->setExpanded(!folded_.contains(row.id));
    }
}

/// What may change while the rows stay: name, icon, whether it fits a pick, and the marks.
void SceneList::fill(QTreeWidgetItem* item) {
    const Scene& scene = document_.scene();
    const ObjectId id = idOf(item);
    const Object* object = scene.find(id);
    if (!object) return;
    const bool fits = !document_.picking() || document_.pickable(id);
    const ObjectClass& type = classOf(id.type());
    item->setText(0, QString::fromStdString(id.type() == ObjectType::stock ? "lost shape" : object->name));
    item->setIcon(0, theme::icon(iconName(*object), fits ? theme::ivory : theme::weightLow));
    item->setFlags(fits ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable : Qt::NoItemFlags);
    const QString shown = shownAs(scene, id);
    item->setData(0, shownRole, shown);
    QString tip = QString::fromStdString(type.label);
    if (item->data(0, sharedRole).toBool()) tip += ", used in several places";
    if (!shown.isEmpty()) tip += ", itself " + shown + "; V or a click on the mark changes that";
    item->setToolTip(0, tip);
}

void SceneList::refresh() {
    refreshing_ = true;
    const std::vector<OutlineRow> rows = outlineOf(document_.scene());
    if (rows != shown_) {
        const auto swarms = document_.scene().all(ObjectType::swarm);
        for (const ObjectId swarm : swarms)
            if (seen_.insert(swarm).second && swarms.size() >= manySwarms) folded_.insert(swarm);
        clear();
        build(rows, nullptr);
        shown_ = rows;
    }
    eachItem(*this, [this](QTreeWidgetItem* item) { fill(item); });
    applyFilter();
    markSelection();
    refreshing_ = false;
}

/// A thing that is selected stands out in one row, that under what is worked on or else its first.
void SceneList::markSelection() {
    if (pressed_) return;
    const auto& wanted = document_.selection();
    const QTreeWidgetItem* now = currentItem();
    if (now && !now->isHidden() && wanted.size() == 1 && idOf(now) == wanted.front() && selectedItems().size() == 1 && now->isSelected())
        return;
    clearSelection();
    for (const ObjectId id : wanted) {
        QTreeWidgetItem* item = now && idOf(now) == id ? currentItem() : itemOf(id);
        if (!item) continue;
        for (QTreeWidgetItem* above = item->parent(); above; above = above->parent()) {
            above->setExpanded(true);
            folded_.erase(idOf(above));
        }
        if (id == document_.chosen()) {
            setCurrentItem(item, 0, QItemSelectionModel::Select);
            scrollToItem(item);
        }
        item->setSelected(true);
    }
}

void SceneList::setFilter(const QString& text) {
    filter_ = text.simplified();
    refreshing_ = true;
    applyFilter();
    markSelection();
    refreshing_ = false;
}

void SceneList::applyFilter() {
    const QStringList words = filter_.split(' ', Qt::SkipEmptyParts);
    const std::function<bool(QTreeWidgetItem*)> keep = [&](QTreeWidgetItem* item) {
        bool under = false;
        for (int k = 0; k < item->childCount(); ++k) under = keep(item->child(k)) || under;
        const bool itself =
            std::all_of(words.begin(), words.end(), [&](const QString& word) { return item->text(0).contains(word, Qt::CaseInsensitive); });
        item->setHidden(!itself && !under);
        if (!words.isEmpty() && under) item->setExpanded(true);
        if (words.isEmpty()) item->setExpanded(!folded_.contains(idOf(item)));
        return itself || under;
    };
    for (int k = 0; k < topLevelItemCount(); ++k) keep(topLevelItem(k));
}

void SceneList::rename() {
    QTreeWidgetItem* item = itemOf(document_.chosen());
    if (!item) return;
    setFocus();
    setCurrentItem(item, 0, QItemSelectionModel::NoUpdate);
    editItem(item);
}

void SceneList::deleteSelected() {
    const auto ids = document_.selection();
    if (ids.empty()) return;
    document_.edit([&](const Scene& scene) {
        Edit edit = forEach(scene, ids, gswarm::remove);
        if (ids.size() > 1) edit.label = "Delete " + grouped(static_cast<double>(ids.size())) + " things";
        return edit;
    });
}

void SceneList::foldSwarms(bool fold) {
    for (const ObjectId swarm : document_.scene().all(ObjectType::swarm)) {
        if (fold)
            folded_.insert(swarm);
        else
            folded_.erase(swarm);
    }
    setFilter(filter_);
}

void SceneList::switchShown(ObjectId id) {
    document_.edit([&](const Scene& s) { return withNextShown(s, id, document_.frame()); });
    document_.seal();
}

// ---- mouse and keyboard

void SceneList::mousePressEvent(QMouseEvent* event) {
    QTreeWidgetItem* item = itemAt(event->position().toPoint());
    // While a thing is picked, the click is an answer and must not move the choice.
    if (document_.picking() && item) return document_.click(idOf(item));
    if (item && event->position().x() > viewport()->width() - switchWidth && !item->data(0, shownRole).toString().isEmpty())
        return switchShown(idOf(item));
    const bool onRow = item && visualItemRect(item).contains(event->position().toPoint());
    if (event->button() == Qt::LeftButton && onRow && event->modifiers() == Qt::NoModifier) {
        pressed_ = idOf(item);
        pressedAt_ = event->position().toPoint();
    }
    QTreeWidget::mousePressEvent(event);
}

void SceneList::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_) return QTreeWidget::mouseMoveEvent(event);
    if ((event->position().toPoint() - pressedAt_).manhattanLength() >= QApplication::startDragDistance())
        dragOut(std::exchange(pressed_, ObjectId{}));
}

void SceneList::mouseReleaseEvent(QMouseEvent* event) {
    QTreeWidget::mouseReleaseEvent(event);
    if (const ObjectId id = std::exchange(pressed_, ObjectId{})) {
        document_.click(id);
        refresh();
    }
}

void SceneList::mouseDoubleClickEvent(QMouseEvent* event) {
    if (QTreeWidgetItem* item = itemAt(event->position().toPoint()); item && !document_.picking()) editItem(item);
}

void SceneList::contextMenuEvent(QContextMenuEvent* event) {
    QTreeWidgetItem* item = event->reason() == QContextMenuEvent::Mouse ? itemAt(event->pos()) : currentItem();
    if (!item) return emit menuAsked({}, event->globalPos());
    const auto& selected = document_.selection();
    if (std::find(selected.begin(), selected.end(), idOf(item)) == selected.end()) document_.choose(idOf(item));
    emit menuAsked(idOf(item), event->reason() == QContextMenuEvent::Mouse ? event->globalPos()
                                                                           : viewport()->mapToGlobal(visualItemRect(item).bottomLeft()));
}

void SceneList::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_V && event->modifiers() == Qt::NoModifier && currentItem()) return switchShown(idOf(currentItem()));
    if (event->key() == Qt::Key_Delete) return deleteSelected();
    if (event->key() == Qt::Key_F2) return rename();
    // Letters are shortcuts of the window, not a search in the list: the filter line searches.
    if (!event->text().isEmpty() && event->text()[0].isPrint() && event->key() != Qt::Key_Space) return event->ignore();
    QTreeWidget::keyPressEvent(event);
}

// ---- dragging

void SceneList::dragOut(ObjectId id) {
    const QTreeWidgetItem* item = itemOf(id);
    if (!item) return;
    const auto& selected = document_.selection();
    const bool several = selected.size() > 1 && std::find(selected.begin(), selected.end(), id) != selected.end();
    const std::vector<ObjectId> ids = several ? selected : std::vector<ObjectId>{id};
    const QString name = several ? QString("%1 things").arg(ids.size()) : item->text(0);
    auto* drag = new QDrag(this);
    drag->setMimeData(carrying(ids));
    QPixmap label(fontMetrics().horizontalAdvance(name) + 34, 26);
    label.fill(theme::raised);
    QPainter painter(&label);
    item->icon(0).paint(&painter, QRect(6, 6, 14, 14));
    painter.setPen(theme::ivory);
    painter.setFont(font());
    painter.drawText(label.rect().adjusted(26, 0, 0, 0), Qt::AlignVCenter, name);
    painter.end();
    drag->setPixmap(label);
    drag->setHotSpot({-10, 10});
    drag->exec(Qt::CopyAction);
    refresh();  // pressing had moved the row that is marked
}

void SceneList::dragEnterEvent(QDragEnterEvent* event) {
    if (!carried(event->mimeData()).empty() || !importing::dragged(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

QAbstractItemView::DropIndicatorPosition SceneList::dropAt(const QPoint& at, QTreeWidgetItem*& item) const {
    item = itemAt(at);
    if (!item) return OnViewport;
    const QRect row = visualItemRect(item);
    const int edge = row.height() / 4;
    return at.y() < row.top() + edge ? AboveItem : at.y() > row.bottom() - edge ? BelowItem : OnItem;
}

void SceneList::dragMoveEvent(QDragMoveEvent* event) {
    QTreeWidget::dragMoveEvent(event);  // it scrolls, and draws where a drop would go
    event->setAccepted(!carried(event->mimeData()).empty() || !importing::dragged(event->mimeData()).isEmpty());
    viewport()->update();
}

void SceneList::dragLeaveEvent(QDragLeaveEvent* event) {
    QTreeWidget::dragLeaveEvent(event);
    viewport()->update();
}

void SceneList::dropEvent(QDropEvent* event) {
    const auto things = carried(event->mimeData());
    const QStringList files = importing::dragged(event->mimeData());
    if (things.empty() && files.isEmpty()) return event->ignore();
    event->acceptProposedAction();
    QTreeWidgetItem* item = nullptr;
    const auto position = dropAt(event->position().toPoint(), item);
    const ObjectId onto = item ? idOf(item) : ObjectId{};
    ObjectId before = onto;
    if (position == BelowItem) {
        QTreeWidgetItem* next =
            item->parent() ? item->parent()->child(item->parent()->indexOfChild(item) + 1) : topLevelItem(indexOfTopLevelItem(item) + 1);
        before = next ? idOf(next) : ObjectId{};
    }
    const bool between = position == AboveItem || position == BelowItem;
    const QPoint at = viewport()->mapToGlobal(event->position().toPoint());
    // The drag has to end before the rows are made anew or a question is asked.
    QTimer::singleShot(0, this, [this, things, files, onto, before, between, at] {
        if (!files.isEmpty()) return dropFiles(document_, files, between ? ObjectId{} : onto, at, window());
        dropThings(document_, things, between ? Drop{before, onto, true} : Drop{onto, onto, false}, at, window());
    });
}

/// The arrow of rows that fold, and the gold line of what is selected.
void SceneList::drawBranches(QPainter* painter, const QRect& rect, const QModelIndex& index) const {
    painter->setRenderHint(QPainter::Antialiasing);
    if (model()->hasChildren(index)) {
        const QRectF box(rect.right() - 11, rect.center().y() - 4.5, 9, 9);
        theme::paintIcon(*painter, isExpanded(index) ? "down" : "right", box, theme::quiet);
    }
    if (selectionModel()->isSelected(index)) painter->fillRect(QRectF(0, rect.top(), 2, rect.height()), theme::gold);
}
