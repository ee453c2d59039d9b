#include "app/finder/finder.h"

#include <algorithm>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace {

constexpr int finderWidth = 460, hintRole = Qt::UserRole + 1;

/// The label at the left, the hint in what is left at the right.
class ItemPainter : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {0, 26}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const bool enabled = option.state & QStyle::State_Enabled;
        if (option.state & QStyle::State_Selected && enabled) painter->fillRect(option.rect, theme::line);
        const QRect row = option.rect.adjusted(8, 0, -8, 0);
        const QString label = index.data().toString();
        painter->setPen(enabled ? theme::ivory : theme::quiet);
        painter->drawText(row, Qt::AlignLeft | Qt::AlignVCenter, label);
        const QRect room = row.adjusted(option.fontMetrics.horizontalAdvance(label) + 16, 0, 0, 0);
        painter->setPen(theme::quiet);
        painter->drawText(room, Qt::AlignRight | Qt::AlignVCenter,
                          option.fontMetrics.elidedText(index.data(hintRole).toString(), Qt::ElideRight, room.width()));
    }
};

}  // namespace

Finder::Finder(QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName("finder");
    setStyleSheet("#finder { background: #1e1a15; border: 1px solid #3a3329; border-radius: 4px; }");
    setFixedSize(finderWidth, 360);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    line_ = new QLineEdit(this);
    line_->setObjectName("finderLine");
    line_->setPlaceholderText("Find or do anything");
    list_ = new QListWidget(this);
    list_->setItemDelegate(new ItemPainter(list_));
    list_->setFont(theme::text());
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(line_);
    column->addWidget(list_, 1);
    line_->installEventFilter(this);
    connect(line_, &QLineEdit::textChanged, this, &Finder::filter);
    connect(list_, &QListWidget::itemClicked, this, &Finder::act);
}

void Finder::open(std::vector<Item> items, const QPoint& global) {
    items_ = std::move(items);
    line_->clear();
    filter();
    move(global);
    show();
    line_->setFocus();
}

void Finder::filter() {
    list_->clear();
    const QStringList words = line_->text().toLower().split(' ', Qt::SkipEmptyParts);
    const auto hold = [&](const QString& text) {
        return std::all_of(words.begin(), words.end(), [&](const QString& w) { return text.contains(w); });
    };
    std::vector<int> ranked[3];
    for (std::size_t i = 0; i < items_.size(); ++i) {
        const QString label = items_[i].label.toLower();
        if (hold(label))
            ranked[words.isEmpty() || label.startsWith(words.front()) ? 0 : 1].push_back(static_cast<int>(i));
        else if (hold(label + " " + items_[i].hint.toLower()))
            ranked[2].push_back(static_cast<int>(i));
    }
    for (const auto& rank : ranked)
        for (const int i : rank) {
            auto* item = new QListWidgetItem(items_[static_cast<std::size_t>(i)].label, list_);
            item->setData(hintRole, items_[static_cast<std::size_t>(i)].hint);
            item->setData(Qt::UserRole, i);
        }
    if (list_->count() == 0) (new QListWidgetItem("Nothing here is called that.", list_))->setFlags(Qt::NoItemFlags);
    list_->setCurrentRow(0);
}

void Finder::act() {
    const QListWidgetItem* item = list_->currentItem();
    if (!item || !(item->flags() & Qt::ItemIsEnabled)) return;
    hide();
    items_[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())].act();
}

bool Finder::eventFilter(QObject*, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return false;
    switch (static_cast<QKeyEvent*>(event)->key()) {
        case Qt::Key_Down:
            list_->setCurrentRow(std::min(list_->currentRow() + 1, list_->count() - 1));
            return true;
        case Qt::Key_Up:
            list_->setCurrentRow(std::max(list_->currentRow() - 1, 0));
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            act();
            return true;
        default:
            return false;
    }
}
