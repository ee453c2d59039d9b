#pragma once
#include <functional>
#include <QPlainTextEdit>
#include <QStringList>
#include <vector>

class QCompleter;
class QLabel;
class QStandardItemModel;

/// A formula being written: what can be named is offered while typing, and a place that can't be understood is
/// underlined with a sentence beneath.
class FormulaEditor : public QWidget {
    Q_OBJECT

  public:
    struct Offer {
        QString name;     ///< what is written
        QString summary;  ///< what it means, shown beside it
    };
    /// `offers` is asked when typing begins.
    FormulaEditor(std::function<std::vector<Offer>()> offers, QWidget* parent);

    /// Shows a text unless the hand is in it.
    void show(const QString& text);
    QString text() const;
    /// `place` is a character of the text; −1 for the whole.
    void showError(const QString& sentence, int place);
    void clearError();

  signals:
    void typed(const QString& text);
    void finished();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QString wordBefore() const;
    void offer();
    void take(const QString& name);
    void fitHeight();

    std::function<std::vector<Offer>()> offers_;
    QPlainTextEdit* editor_;
    QLabel* error_;
    QCompleter* completer_;
    QStandardItemModel* names_;
};
