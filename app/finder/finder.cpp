#include "app/finder/finder.h"

#include <algorithm>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QSettings>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <tuple>

#include "app/theme/theme.h"

namespace {

constexpr int finderWidth = 480, hintRole = Qt::UserRole + 1, mostDone = 40, rowHeight = 26, rowsShown = 12;
const char* const doneKey = "finder/done";

/// The label at the left, the hint in what is left at the right.
class ItemPainter : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {0, rowHeight}; }
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
    setFixedWidth(finderWidth);
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
    column->addWidget(list_);
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

int Finder::rankOf(const Item& item, const QStringList& words) {
    const QString label = item.label.toLower();
    const QStringList inLabel = label.split(' '), also = item.words.toLower().split(' ', Qt::SkipEmptyParts);
    const QString hint = item.hint.toLower();
    const auto begins = [](const QStringList& among, const QString& word) {
        return std::any_of(among.begin(), among.end(), [&](const QString& one) { return one.startsWith(word); });
    };
    int worst = 0;
    for (const QString& word : words) {
        const int rank = label.startsWith(word)  ? 0
                         : begins(inLabel, word) ? 1
                         : also.contains(word)   ? 1
                         : label.contains(word)  ? 2
                         : begins(also, word)    ? 3
                         : hint.contains(word)   ? 4
                                                 : -1;
        if (rank < 0) return -1;
        worst = std::max(worst, rank);
    }
    return worst;
}

void Finder::filter() {
    list_->clear();
    const QStringList words = line_->text().toLower().split(' ', Qt::SkipEmptyParts);
    const QStringList done = QSettings().value(doneKey).toStringList();
    struct Found {
        int rank;
        qsizetype since;  ///< how many others were done after it
        int item;
    };
    std::vector<Found> found;
    for (std::size_t i = 0; i < items_.size(); ++i) {
        const int rank = rankOf(items_[i], words);
        const qsizetype at = done.indexOf(items_[i].id);
        if (rank >= 0) found.push_back({rank, at < 0 ? mostDone : at, static_cast<int>(i)});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Found& a, const Found& b) { return std::tie(a.rank, a.since) < std::tie(b.rank, b.since); });
    for (const Found& one : found) {
        auto* item = new QListWidgetItem(items_[static_cast<std::size_t>(one.item)].label, list_);
        item->setData(hintRole, items_[static_cast<std::size_t>(one.item)].hint);
        item->setData(Qt::UserRole, one.item);
    }
    if (list_->count() == 0) (new QListWidgetItem("Nothing here is called that.", list_))->setFlags(Qt::NoItemFlags);
    list_->setCurrentRow(0);
    // As high as what is found, up to a dozen rows.
    list_->setFixedHeight(std::clamp(list_->count(), 1, rowsShown) * rowHeight + 2);
    adjustSize();
}

void Finder::act() {
    const QListWidgetItem* current = list_->currentItem();
    if (!current || !(current->flags() & Qt::ItemIsEnabled)) return;
    hide();
    const Item item = items_[static_cast<std::size_t>(current->data(Qt::UserRole).toInt())];  // what it does may fill the list anew
    QStringList done = QSettings().value(doneKey).toStringList();
    done.removeAll(item.id);
    done.prepend(item.id);
    QSettings().setValue(doneKey, QStringList(done.mid(0, mostDone)));
    item.act();
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
