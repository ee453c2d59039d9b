#pragma once
#include <QWidget>

#include "core/scene/value.h"

class ColourField;

/// A ramp of stops: click chooses a stop, drag moves it, a double click in between adds one, Delete takes it away.
/// The chosen stop's colour is edited below.
class RampField : public QWidget {
    Q_OBJECT

  public:
    explicit RampField(QWidget* parent);
    void show(const gswarm::Ramp& ramp);

  signals:
    void edited(const gswarm::Ramp& ramp);
    void finished();
    void trouble(const QString& sentence);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    double placeAt(double x) const;
    double xOf(double at) const;
    void choose(int stop);

    gswarm::Ramp ramp_;
    int chosen_ = 0;
    bool dragging_ = false;
    ColourField* colour_;
};
