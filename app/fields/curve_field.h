#pragma once
#include <functional>
#include <QWidget>
#include <vector>

#include "core/scene/value.h"

class NumberField;

/// The way a response goes, over the values that come in now: drag a point or the handle of its slope, double-click to
/// add one, Delete takes it away, type its numbers below. A curve that is not drawn is shown and becomes drawn when it
/// is taken hold of.
class CurveField : public QWidget {
    Q_OBJECT

  public:
    explicit CurveField(QWidget* parent);

    struct State {
        gswarm::CurvePoints points;           ///< what is drawn
        bool drawn = true;                    ///< the points count; otherwise `value` tells the way
        std::function<double(double)> value;  ///< 0 … 1 in, what comes out of the curve
        std::vector<float> coming;            ///< samples of what comes in, 0 … 1 where the range is
        bool clips = false;
    };
    void show(const State& state);
    /// Where a point is in the widget, for tests and tours.
    QPointF placeOf(int point) const;
    int chosen() const { return chosen_; }

  signals:
    void edited(const gswarm::CurvePoints& points);
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
    enum class Held { nothing, point, slopeIn, slopeOut };
    QRectF plot() const;
    QPointF pixel(double at, double value) const;
    QPointF slopeHandle(const gswarm::CurvePoint& point, bool out) const;
    void paintHistogram(QPainter& painter);
    void paintPoints(QPainter& painter);
    void showNumbers();
    void setNumber(int which, double value);
    void replace(std::size_t point, gswarm::CurvePoint by);

    State state_;
    int chosen_ = 0;
    Held held_ = Held::nothing;
    QWidget* numbers_;
    NumberField* fields_[4];
};
