#pragma once
#include <QFrame>
#include <QTimer>

#include "core/edit/gesture_starts.h"

/// The gallery of gestures, told by what they do, in words and small moving pictures: each picture is the gesture
/// itself at work on a row of blocks.
class Gallery : public QFrame {
    Q_OBJECT

  public:
    explicit Gallery(QWidget* parent);

  signals:
    void taken(const gswarm::GestureStart& start);

  protected:
    void showEvent(QShowEvent*) override { timer_.start(); }
    void hideEvent(QHideEvent*) override { timer_.stop(); }

  private:
    QTimer timer_;
};
