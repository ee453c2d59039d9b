#pragma once
#include <QWidget>
#include <vector>

#include "app/document/document.h"

/// Ruler and rows of the time panel: the playhead, one bar per gesture from its first start to its last end, and one
/// row for everything keyed, with its keys. Click chooses a key, drag moves it, Delete takes it away.
class TimeRows : public QWidget {
    Q_OBJECT

  public:
    TimeRows(Document& document, QWidget* parent);
    double xOf(double frame) const;

    static constexpr int rulerHeight = 24;  ///< pixels, at the top

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    struct Row {
        gswarm::ObjectId object;
        double from = 0, to = 0;   ///< the bar; equal for none
        std::vector<double> keys;  ///< frames
    };
    std::vector<Row> rows() const;
    double frameAt(double x) const;
    QRectF rowRect(int row) const;
    const Row* rowAt(double y, const std::vector<Row>& rows) const;
    void refresh();
    void scrub(double x);

    Document& document_;
    gswarm::ObjectId keyObject_;
    double keyFrame_ = 0;
    bool scrubbing_ = false, moving_ = false;
};
