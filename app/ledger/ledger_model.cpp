#include "app/ledger/ledger_model.h"

#include <QBrush>
#include <QColor>

#include "app/theme/theme.h"

using namespace gswarm;

LedgerModel::LedgerModel(const Session& session, QObject* parent) : QAbstractTableModel(parent), session_(session) {}

void LedgerModel::show(std::shared_ptr<const Ledger> ledger) {
    const auto sameColumns = [&] {
        if (!ledger_ || ledger->columns.size() != ledger_->columns.size()) return false;
        for (std::size_t c = 0; c < ledger->columns.size(); ++c)
            if (ledger->columns[c].id != ledger_->columns[c].id || ledger->columns[c].label != ledger_->columns[c].label) return false;
        return true;
    };
    // Other values of the same list leave the view where it is.
    if (sameColumns() && ledger->rows.size() == ledger_->rows.size()) {
        ledger_ = std::move(ledger);
        if (rowCount() > 0 && columnCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
        return;
    }
    beginResetModel();
    ledger_ = std::move(ledger);
    endResetModel();
}

void LedgerModel::setSort(const std::string& column, bool descending) {
    sortBy_ = column;
    descending_ = descending;
    if (columnCount() > 0) emit headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
}

void LedgerModel::choiceChanged() {
    if (rowCount() > 0 && columnCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
}

int LedgerModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !ledger_ ? 0 : static_cast<int>(ledger_->rows.size());
}
int LedgerModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() || !ledger_ ? 0 : static_cast<int>(ledger_->columns.size());
}

bool LedgerModel::isChosen(int row) const {
    const auto& chosen = session_.instances();
    return chosen.swarm == ledger_->swarm && chosen.contains(ledger_->idOf(static_cast<std::size_t>(row)));
}

QVariant LedgerModel::data(const QModelIndex& index, int role) const {
    const auto column = static_cast<std::size_t>(index.column());
    switch (role) {
        case Qt::DisplayRole:
            return QString::fromStdString(ledger_->text(static_cast<std::size_t>(index.row()), column));
        case Qt::TextAlignmentRole:
            return static_cast<int>(Qt::AlignVCenter | (ledger_->columns[column].id == "shape" ? Qt::AlignLeft : Qt::AlignRight));
        case Qt::BackgroundRole:
            return isChosen(index.row()) ? QVariant(theme::line) : QVariant();
        case Qt::ForegroundRole:
            return isChosen(index.row()) ? QVariant(theme::gold) : QVariant();
        default:
            return {};
    }
}

QVariant LedgerModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical || !ledger_ || section >= columnCount()) return {};
    const LedgerColumn& column = ledger_->columns[static_cast<std::size_t>(section)];
    if (role == Qt::ToolTipRole) return QString::fromStdString(column.summary + "\nA click sorts by it");
    if (role != Qt::DisplayRole) return {};
    const QString label = QString::fromStdString(column.unit.empty() ? column.label : column.label + ", " + column.unit);
    return column.id == sortBy_ ? label + (descending_ ? " ▾" : " ▴") : label;
}
