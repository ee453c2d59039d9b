#pragma once
#include <array>
#include <functional>
#include <QWidget>
#include <vector>

#include "app/document/document.h"

class MovedBy;
class QLabel;

/// One parameter of an object as a row: its label and the fields that suit its type. All that it shows and asks for
/// follows from the parameter's table.
class ParameterRow : public QWidget {
    Q_OBJECT

  public:
    /// Pixels for the words of a choice beside its label, in a panel of the usual width.
    static constexpr int roomBesideLabel = 136;
    /// Pixels of the label of a row.
    static constexpr int labelWidth = 92;

    ParameterRow(Document& document, const gswarm::Address& address, QWidget* parent);
    const gswarm::Address& address() const { return address_; }
    /// Shows the value at the document's frame.
    void refresh();
    /// A narrower label, where several rows stand side by side; 0 for none.
    void setLabelWidth(int width);

  signals:
    void trouble(const QString& sentence);
    /// Asks for nine values of the number side by side.
    void variationsAsked(const gswarm::Address& number);

  private:
    void addNumbers();
    gswarm::Address numberOf(int component) const;
    /// Shows what moves a number under it, while a formula or a link does.
    void showMover(int component, bool editIt);
    void offerKey(QWidget* field);
    void addColour();
    void setColour(const std::array<double, 4>& colour);
    void addChoice();
    void addToggle();
    void addText(bool file);
    void addFamily();
    void takeFile(const QString& path);
    void takeFormula(const gswarm::Address& number, int component, const QString& text);
    void takeSeveral(int first, const QStringList& texts);
    void addLines();
    void addPoints();
    void addReference();
    void addReferenceChoice();
    void addFormula();
    void addInstances();
    void showNumberMenu(const gswarm::Address& number, const QPoint& at);
    void addRamp();
    void askRate(const QString& rate, const QPoint& at);
    const gswarm::Parameter& parameter() const { return gswarm::parameterAt(document_.scene(), address_); }
    /// A reference that may stay empty.
    bool doesWithout() const { return parameter().optional || !parameter().begins.empty(); }
    void mousePressEvent(QMouseEvent*) override {}
    void mouseDoubleClickEvent(QMouseEvent* event) override;

    Document& document_;
    gswarm::Address address_;
    QLabel* label_;
    QWidget* fields_;
    std::vector<std::function<void()>> refreshers_;
    std::vector<MovedBy*> movers_;  ///< one for each number, null for those that nothing moves in words
};
