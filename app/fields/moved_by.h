#pragma once
#include <functional>
#include <QWidget>
#include <vector>

#include "app/document/document.h"

class FormulaEditor;
class QLabel;

/// Under a number that a formula or a link moves: what moves it, to be changed in place.
class MovedBy : public QWidget {
    Q_OBJECT

  public:
    /// The number must be moved by a formula or a link; it is shown as long as that is so.
    MovedBy(Document& document, const gswarm::Address& number, QWidget* parent);
    bool fits() const;  ///< whether what it shows still moves the number
    void refresh();
    /// Puts the keyboard into the formula.
    void edit();

  signals:
    void trouble(const QString& sentence);

  private:
    const gswarm::Track& track() const;
    void addFormula();
    void addLink();
    void addLinkNumber(QWidget* row, const QString& label, const char* unit, double low, double high, double gswarm::Link::*member);
    void setLink(const std::function<void(gswarm::Link&)>& change);

    Document& document_;
    gswarm::Address number_;
    bool formula_;
    FormulaEditor* editor_ = nullptr;
    QLabel* told_;
    std::vector<std::function<void()>> refreshers_;
};
