#include "app/window/shortcut_list.h"

#include <QHeaderView>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/window/shortcuts.h"

ShortcutList::ShortcutList(Shortcuts& shortcuts, QWidget* parent) : QFrame(parent, Qt::Popup), shortcuts_(shortcuts) {
    setObjectName("shortcutList");
    setStyleSheet(
        "#shortcutList { background: #1e1a15; border: 1px solid #3a3329; border-radius: 4px; } QTableWidget { background: "
        "transparent; border: none; } ");
    setFixedSize(520, 560);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 12);
    auto* title = new QLabel("Shortcuts", this);
    title->setFont(theme::text(15, QFont::DemiBold));
    column->addWidget(title);
    table_ = new QTableWidget(0, 2, this);
    table_->setAccessibleName("Shortcuts");
    table_->horizontalHeader()->hide();
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->resizeSection(1, 150);
    table_->verticalHeader()->setDefaultSectionSize(30);
    column->addWidget(table_, 1);
    said_ = new QLabel("Click a shortcut and press the keys it is to have; Backspace takes it away.", this);
    said_->setObjectName("shortcutSaid");
    said_->setWordWrap(true);
    said_->setStyleSheet("color: #a3967f;");
    column->addWidget(said_);
    auto* reset = new QPushButton("All as they were at first", this);
    reset->setObjectName("resetShortcuts");
    column->addWidget(reset);
    connect(reset, &QPushButton::clicked, &shortcuts_, &Shortcuts::reset);
    connect(&shortcuts_, &Shortcuts::changed, this, &ShortcutList::fill);
    const auto& commands = shortcuts_.commands();
    table_->setRowCount(static_cast<int>(commands.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Command& command = commands[static_cast<std::size_t>(row)];
        auto* label = new QTableWidgetItem(command.label);
        label->setFlags(Qt::ItemIsEnabled);
        label->setToolTip(command.label);
        table_->setItem(row, 0, label);
        auto* keys = new QKeySequenceEdit(table_);
        keys->setObjectName("keys-" + command.id);
        keys->setAccessibleName("Shortcut of " + command.label);
        keys->setClearButtonEnabled(true);
        table_->setCellWidget(row, 1, keys);
        connect(keys, &QKeySequenceEdit::editingFinished, this, [this, keys, &command] {
            if (keys->keySequence() == shortcuts_.of(command.id)) return;
            const QString other = shortcuts_.set(command.id, keys->keySequence());
            said_->setStyleSheet(other.isEmpty() ? "color: #ece3d2;" : "color: #f08a72;");
            said_->setText(other.isEmpty() ? QString("“%1” has its new shortcut.").arg(command.label)
                                           : QString("%1 belongs to “%2”; “%3” keeps what it had. Take the keys from the other first.")
                                                 .arg(keys->keySequence().toString(), other, command.label));
            fill();
        });
    }
    fill();
}

void ShortcutList::fill() {
    const auto& commands = shortcuts_.commands();
    for (int row = 0; row < table_->rowCount(); ++row) {
        auto* keys = static_cast<QKeySequenceEdit*>(table_->cellWidget(row, 1));
        const QSignalBlocker quiet(keys);
        keys->setKeySequence(shortcuts_.of(commands[static_cast<std::size_t>(row)].id));
    }
}

void ShortcutList::open(const QPoint& global) {
    fill();
    move(global);
    show();
}
