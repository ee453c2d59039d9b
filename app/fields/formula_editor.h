#pragma once
#include <functional>
#include <QPlainTextEdit>
#include <QStringList>
#include <vector>

class QCompleter;
class QLabel;
class QStandardItemModel;
namespace gswarm {
struct Scene;
}

/// A formula being written: what can be named is offered while typing, and a place that can't be understood is
/// underlined with a sentence beneath.
class FormulaEditor : public QWidget {
    Q_OBJECT

  public:
    struct Offer {
        QString name;     ///< what is written
        QString summary;  ///< what it means, shown beside it
    };
    /// All that a formula may name: short names, functions, and numbers of the scene.
    static std::vector<Offer> offersFor(const gswarm::Scene& scene);
    /// `offers` is asked when typing begins.
    FormulaEditor(std::function<std::vector<Offer>()> offers, QWidget* parent);

    /// Shows a text unless the hand is in it.
    void show(const QString& text);
    QString text() const;
    /// `byte` of the text as UTF-8, as the core tells places; −1 for the whole.
    void showError(const QString& sentence, int byte);
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
    bool taking_ = false;  ///< a name is being put in: nothing more is offered
    QStandardItemModel* names_;
};
