#pragma once
#include <memory>
#include <QWidget>

class Document;
class NumberField;
class QHBoxLayout;
class QLabel;

/// Above the nine pictures: which number they vary, from where to where, and the way out.
class VariationBar : public QWidget {
    Q_OBJECT

  public:
    VariationBar(Document& document, QWidget* parent);
    void refresh();

  signals:
    void resized();

  private:
    void makeFields();

    Document& document_;
    QHBoxLayout* row_;
    QLabel* what_;
    NumberField *from_ = nullptr, *to_ = nullptr;
    std::string shownFor_;  ///< address of the number that the fields suit
};
