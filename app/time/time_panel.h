#pragma once
#include <QWidget>

#include "app/document/document.h"

class Evaluation;
class Play;
class QLabel;
class QToolButton;
class TimeRows;

/// Transport above the ruler and the rows.
class TimePanel : public QWidget {
    Q_OBJECT

  public:
    TimePanel(Document& document, Evaluation& evaluation, Play& play, QWidget* parent);
    TimeRows* rows() const { return rows_; }

  private:
    void refresh();
    QToolButton* button(const char* icon, const QString& tip);

    Document& document_;
    Evaluation& evaluation_;
    Play& play_;
    TimeRows* rows_;
    QToolButton *play_button_, *piece_;
    QLabel *range_, *speed_;
};
