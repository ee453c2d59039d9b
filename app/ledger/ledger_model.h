#pragma once
#include <memory>
#include <QAbstractTableModel>

#include "app/document/session.h"
#include "core/read/ledger.h"

/// The ledger as a table: reads what a view shows and copies nothing.
class LedgerModel : public QAbstractTableModel {
    Q_OBJECT

  public:
    LedgerModel(const Session& session, QObject* parent);

    void show(std::shared_ptr<const gswarm::Ledger> ledger);
    const gswarm::Ledger* ledger() const { return ledger_.get(); }
    /// Marks the column that the list is sorted by.
    void setSort(const std::string& column, bool descending);
    void choiceChanged();

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    bool isChosen(int row) const;

    const Session& session_;
    std::shared_ptr<const gswarm::Ledger> ledger_;
    std::string sortBy_;
    bool descending_ = false;
};
