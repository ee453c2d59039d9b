#pragma once
#include <QWidget>

class Document;
class TracedView;
class QLabel;
class QToolButton;

/// Of the traced picture: how far it is, and what can be done with it.
class LookLine : public QWidget {
    Q_OBJECT

  public:
    LookLine(Document& document, TracedView& view, QWidget* parent);

  private:
    QToolButton* button(const char* icon, const char* name, const QString& tip, bool checkable);
    void refresh();
    void askSamples();

    TracedView& view_;
    QLabel* told_;
    QToolButton *samples_, *filter_, *region_, *keep_, *compare_, *after_;
};
