#pragma once
#include <QObject>

/// How controls behave everywhere, as a filter of the application's events: a wheel that scrolls a panel never changes a
/// choice it passes over, nor takes the keyboard there; Enter presses the button or switch that has the focus, because
/// Space plays.
class Behaviour : public QObject {
  public:
    using QObject::QObject;

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};
