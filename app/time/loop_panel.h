#pragma once
#include <memory>
#include <QFrame>

#include "app/document/document.h"

class Evaluation;
class QLabel;
class QVBoxLayout;

/// What the loop check found: the seam of every swarm, what breaks it, and mends that are applied one by one.
class LoopPanel : public QFrame {
    Q_OBJECT

  public:
    LoopPanel(Document& document, Evaluation& evaluation, QWidget* parent);
    /// Shows the panel with its lower right corner at a place on the screen.
    void open(const QPoint& corner);

  private:
    void refresh();

    Document& document_;
    Evaluation& evaluation_;
    QWidget* content_ = nullptr;
    QPoint corner_;
};
