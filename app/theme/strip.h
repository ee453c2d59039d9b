#pragma once
#include <QWidget>
#include <vector>

class QPainter;

/// Weights of instances in their order, left to right: how tall and how light tells how strong; below 0 hatched, above 1
/// dotted.
void paintStrip(QPainter& painter, const QRectF& in, const std::vector<float>& weights);

/// The same as a widget.
class Strip : public QWidget {
    Q_OBJECT

  public:
    explicit Strip(QWidget* parent);
    void show(const std::vector<float>& weights);
    const std::vector<float>& weights() const { return weights_; }

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    std::vector<float> weights_;
};
