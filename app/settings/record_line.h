#pragma once
#include <QWidget>

#include "app/document/document.h"

class QPushButton;
class QTimer;

/// Makes a clip of media, or a file of a sound: a button that begins it, and then says how far it is and cancels it.
class RecordLine : public QWidget {
    Q_OBJECT

  public:
    RecordLine(Document& document, gswarm::ObjectId recorded, QWidget* parent);

  private:
    void click();
    void tell();

    Document& document_;
    gswarm::ObjectId recorded_;
    QPushButton* button_;
    QTimer* timer_;
};
