#pragma once
#include <memory>
#include <QWidget>

#include "core/read/ledger.h"

class Document;
class Evaluation;
class FormulaEditor;
class LedgerModel;
class QLabel;
class QTableView;

/// The ledger: a table of every number of every instance of the swarm at the frame. Choosing rows chooses instances in
/// the picture, and the other way round.
class LedgerPanel : public QWidget {
    Q_OBJECT

  public:
    LedgerPanel(Document& document, Evaluation& evaluation, QWidget* parent);

    const LedgerModel& model() const { return *model_; }
    QTableView& table() { return *table_; }
    void copyRows();

  protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void ask();
    void take(const std::shared_ptr<const gswarm::Ledger>& ledger);
    void refuse(const QString& sentence, int place);
    void sortBy(int column);
    void chooseColumns();
    void clickRow(int row, Qt::KeyboardModifiers modifiers);
    void showChoice();
    void scrollToChoice();
    void tellCount();

    Document& document_;
    Evaluation& evaluation_;
    LedgerModel* model_;
    QTableView* table_;
    FormulaEditor* filter_;
    QLabel *count_, *none_;
    gswarm::LedgerQuery query_;
    gswarm::ObjectId swarm_;
    int anchor_ = -1;             ///< the row from which Shift reaches
    bool columnsChosen_ = false;  ///< by hand; until then they suit the swarm
    bool opened_ = false;         ///< just now: the first list begins at what is chosen
    bool choosing_ = false;       ///< the choice came from here: the list stays where it is
};
