#include "app/ledger/ledger_panel.h"

#include <algorithm>
#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QTableView>
#include <QToolButton>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/fields/formula_editor.h"
#include "app/ledger/ledger_model.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr int rowHeight = 20;
constexpr std::size_t mostCopied = 1'000'000;

}  // namespace

LedgerPanel::LedgerPanel(Document& document, Evaluation& evaluation, QWidget* parent)
    : QWidget(parent), document_(document), evaluation_(evaluation) {
    setObjectName("ledger");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 2, 8, 4);
    column->setSpacing(3);
    auto* head = new QHBoxLayout;
    head->setSpacing(6);
    column->addLayout(head);
    auto* label = new QLabel("Only where", this);
    label->setStyleSheet("color: #a3967f;");
    head->addWidget(label, 0, Qt::AlignTop);
    filter_ = new FormulaEditor([this] { return FormulaEditor::offersFor(document_.scene()); }, this);
    filter_->setObjectName("ledgerFilter");
    filter_->setToolTip(
        "A condition such as yNow > 1 && chance(1) < 0.5. x y z is the home, xNow yNow zNow the place now in the swarm's own metres, xSize "
        "ySize zSize the "
        "size; empty lists all");
    head->addWidget(filter_, 1);
    count_ = new QLabel(this);
    count_->setObjectName("ledgerCount");
    count_->setFont(theme::numbers(11));
    count_->setStyleSheet("color: #a3967f;");
    head->addWidget(count_, 0, Qt::AlignTop);
    const auto tool = [&](const char* icon, const char* name, const QString& tip) {
        auto* button = new QToolButton(this);
        button->setObjectName(name);
        button->setIcon(theme::icon(icon, theme::quiet));
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        button->setFixedSize(26, 26);
        head->addWidget(button, 0, Qt::AlignTop);
        return button;
    };
    connect(tool("more", "ledgerColumns", "Choose columns"), &QToolButton::clicked, this, &LedgerPanel::chooseColumns);
    model_ = new LedgerModel(document_.session(), this);
    table_ = new QTableView(this);
    table_->setObjectName("ledgerTable");
    table_->setModel(model_);
    table_->setFont(theme::numbers(11));
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setFocusPolicy(Qt::StrongFocus);
    table_->setShowGrid(false);
    table_->setWordWrap(false);
    table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table_->verticalHeader()->setMinimumSectionSize(rowHeight);
    table_->verticalHeader()->setDefaultSectionSize(rowHeight);
    table_->horizontalHeader()->setDefaultSectionSize(84);
    table_->horizontalHeader()->setSectionsClickable(true);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setFixedHeight(22);
    none_ = new QLabel("No instance fits. x y z stand for the home, xNow yNow zNow for the place now, xSize ySize zSize for the size.",
                       table_->viewport());
    none_->setObjectName("ledgerNone");
    none_->setStyleSheet("color: #a3967f;");
    none_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    none_->setWordWrap(true);
    none_->hide();
    table_->viewport()->installEventFilter(this);
    table_->installEventFilter(this);
    column->addWidget(table_, 1);
    connect(table_->horizontalHeader(), &QHeaderView::sectionClicked, this, &LedgerPanel::sortBy);
    connect(filter_, &FormulaEditor::typed, this, [this](const QString& text) {
        query_.filter = text.trimmed().isEmpty() ? std::string() : text.toStdString();
        if (query_.filter.empty()) filter_->clearError();
        ask();
    });
    connect(&evaluation_, &Evaluation::ledgerRead, this, &LedgerPanel::take);
    connect(&evaluation_, &Evaluation::ledgerRefused, this, &LedgerPanel::refuse);
    connect(&document_.session(), &Session::instancesChanged, this, &LedgerPanel::showChoice);
    for (const auto signal : {&Document::sceneChanged, &Document::chosenChanged})
        connect(&document_, signal, this, [this] {
            const ObjectId swarm = document_.swarm();
            const bool others = !columnsChosen_ && swarm && query_.columns != standardLedgerColumns(document_.scene(), swarm);
            if (isVisible() && (swarm != swarm_ || others)) ask();
        });
}

void LedgerPanel::showEvent(QShowEvent*) {
    opened_ = true;
    ask();
}
void LedgerPanel::hideEvent(QHideEvent*) { evaluation_.hideLedger(); }

void LedgerPanel::ask() {
    swarm_ = document_.swarm();
    if (!isVisible() || !swarm_) return;
    if (!columnsChosen_) query_.columns = standardLedgerColumns(document_.scene(), swarm_);
    evaluation_.showLedger(swarm_, query_);
}

void LedgerPanel::take(const std::shared_ptr<const Ledger>& ledger) {
    if (!isVisible() || ledger->swarm != document_.swarm()) return;
    filter_->clearError();
    model_->show(ledger);
    tellCount();
    none_->setVisible(ledger->rows.empty());
    none_->setGeometry(table_->viewport()->rect().adjusted(12, 8, -12, -8));
    if (opened_) scrollToChoice();
    opened_ = false;
}

void LedgerPanel::refuse(const QString& sentence, int place) { filter_->showError(sentence, place); }

void LedgerPanel::tellCount() {
    const Ledger* ledger = model_->ledger();
    if (!ledger) return;
    const bool all = static_cast<int>(ledger->rows.size()) == ledger->count;
    const auto& chosen = document_.session().instances();
    const auto result = evaluation_.resultOf(ledger->swarm);
    const std::size_t copies = result ? result->copies.size() : 1;
    QString text =
        all ? theme::counted(ledger->count / ledger->copies, "instance") + (copies > 1 ? QString(" × %1").arg(copies) : QString())
            : theme::grouped(static_cast<qint64>(ledger->rows.size())) + " of " + theme::grouped(ledger->count);
    if (chosen.swarm == ledger->swarm && !chosen.ids.empty())
        text += " · " + theme::grouped(static_cast<qint64>(chosen.ids.size())) + " chosen";
    count_->setText(text);
}

/// First upward, then downward, then by number again.
void LedgerPanel::sortBy(int column) {
    const std::string id = model_->ledger()->columns[static_cast<std::size_t>(column)].id;
    const bool same = query_.sortBy == id;
    if (same && query_.descending)
        query_.sortBy.clear();
    else
        query_.sortBy = id;
    query_.descending = same && !query_.descending;
    model_->setSort(query_.sortBy, query_.descending);
    ask();
}

void LedgerPanel::chooseColumns() {
    if (!document_.swarm()) return;
    QMenu menu(this);
    menu.setObjectName("columnMenu");
    if (!document_.scene().at(document_.swarm()).list("symmetries").empty()) {
        QAction* copies = menu.addAction("List copies by symmetry");
        copies->setCheckable(true);
        copies->setChecked(query_.copies);
        connect(copies, &QAction::toggled, this, [this](bool on) {
            query_.copies = on;
            ask();
        });
        menu.addSeparator();
    }
    for (const LedgerColumn& column : ledgerColumns(document_.scene(), document_.swarm())) {
        QAction* action = menu.addAction(QString::fromStdString(column.label));
        action->setCheckable(true);
        const auto at = std::find(query_.columns.begin(), query_.columns.end(), column.id);
        action->setChecked(at != query_.columns.end());
        connect(action, &QAction::toggled, this, [this, id = column.id](bool on) {
            if (on)
                query_.columns.push_back(id);
            else
                std::erase(query_.columns, id);
            columnsChosen_ = true;
            ask();
        });
    }
    menu.exec(QCursor::pos());
}

void LedgerPanel::clickRow(int row, Qt::KeyboardModifiers modifiers) {
    const Ledger* ledger = model_->ledger();
    if (!ledger || row < 0 || row >= model_->rowCount()) return;
    choosing_ = true;
    Session& session = document_.session();
    if (modifiers & Qt::ShiftModifier && anchor_ >= 0 && anchor_ < model_->rowCount()) {
        std::vector<std::uint64_t> ids;
        for (int r = std::min(anchor_, row); r <= std::max(anchor_, row); ++r) ids.push_back(ledger->idOf(static_cast<std::size_t>(r)));
        // Copies have the id of their original.
        std::sort(ids.begin(), ids.end());
        ids.erase(std::unique(ids.begin(), ids.end()), ids.end());
        session.chooseInstances(ledger->swarm, std::move(ids));
    } else {
        anchor_ = row;
        const std::uint64_t id = ledger->idOf(static_cast<std::size_t>(row));
        if (modifiers & Qt::ControlModifier)
            session.toggleInstance(ledger->swarm, id);
        else
            session.chooseInstances(ledger->swarm, {id});
    }
    choosing_ = false;
}

/// What was chosen elsewhere is scrolled to.
void LedgerPanel::showChoice() {
    if (!isVisible()) return;
    model_->choiceChanged();
    tellCount();
    if (!choosing_) scrollToChoice();
}

void LedgerPanel::scrollToChoice() {
    const Ledger* ledger = model_->ledger();
    const auto& chosen = document_.session().instances();
    if (!ledger || chosen.ids.empty() || chosen.swarm != ledger->swarm) return;
    for (std::size_t row = 0; row < ledger->rows.size(); ++row)
        if (chosen.contains(ledger->idOf(row)))
            return table_->scrollTo(model_->index(static_cast<int>(row), 0), QAbstractItemView::PositionAtCenter);
}

/// The chosen rows, or all that are listed.
void LedgerPanel::copyRows() {
    const Ledger* ledger = model_->ledger();
    if (!ledger) return;
    const auto& chosen = document_.session().instances();
    std::vector<std::uint32_t> rows;
    for (std::uint32_t row = 0; row < ledger->rows.size(); ++row)
        if (chosen.swarm == ledger->swarm && chosen.contains(ledger->idOf(row))) rows.push_back(row);
    if (rows.empty())
        for (std::uint32_t row = 0; row < ledger->rows.size(); ++row) rows.push_back(row);
    QApplication::clipboard()->setText(QString::fromStdString(tabbedText(*ledger, rows, mostCopied)));
}

bool LedgerPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == table_->viewport() && (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseMove)) {
        auto* mouse = static_cast<QMouseEvent*>(event);
        const bool press = event->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton;
        const bool drag = event->type() == QEvent::MouseMove && mouse->buttons() & Qt::LeftButton;
        const int row = table_->rowAt(static_cast<int>(mouse->position().y()));
        if (press) clickRow(row, mouse->modifiers());
        if (drag && row >= 0 && row != anchor_) clickRow(row, Qt::ShiftModifier);
    }
    if (watched == table_ && event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::Copy)) {
            copyRows();
            return true;
        }
        const int step = key->key() == Qt::Key_Down ? 1 : key->key() == Qt::Key_Up ? -1 : 0;
        if (step != 0) {
            const int row = std::clamp(anchor_ + step, 0, std::max(0, model_->rowCount() - 1));
            clickRow(row, {});
            table_->scrollTo(model_->index(row, 0));
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}
