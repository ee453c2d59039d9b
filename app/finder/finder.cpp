#include "app/finder/finder.h"

#include <algorithm>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/theme/theme.h"

Finder::Finder(QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName("finder");
    setStyleSheet(
        "#finder { background: #1e1a15; border: 1px solid #3a3329; border-radius: 4px; } QListWidget::item { height: 26px; padding: 0 6px; "
        "} QListWidget::item:selected { background: #3a3329; color: #ece3d2; }");
    setFixedSize(420, 320);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    line_ = new QLineEdit(this);
    line_->setObjectName("finderLine");
    line_->setPlaceholderText("Find or do anything");
    list_ = new QListWidget(this);
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
    for (std::size_t i = 0; i < items_.size(); ++i) {
        const QString text = items_[i].label.toLower() + " " + items_[i].hint.toLower();
        if (!std::all_of(words.begin(), words.end(), [&](const QString& w) { return text.contains(w); })) continue;
        auto* item = new QListWidgetItem(items_[i].hint.isEmpty() ? items_[i].label : items_[i].label + "   " + items_[i].hint, list_);
        item->setData(Qt::UserRole, static_cast<int>(i));
    }
    list_->setCurrentRow(0);
}

void Finder::act() {
    const QListWidgetItem* item = list_->currentItem();
    hide();
    if (item) items_[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())].act();
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
