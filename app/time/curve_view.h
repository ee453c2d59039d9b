#pragma once
#include <optional>
#include <QWidget>
#include <vector>

#include "app/document/document.h"
#include "core/edit/key_edits.h"

class TimeRows;

/// The keyed numbers of an object as curves over the same frames as the rows: values as lines, speeds as dotted ones. Keys
/// are dragged in both directions, the slopes of free ones by their handles; a double click on a curve adds a key. The wheel
/// zooms the values to the pointer, a drag beside the keys moves them, and a double click on their scale shows all again.
class CurveView : public QWidget {
    Q_OBJECT

  public:
    CurveView(Document& document, TimeRows& rows, QWidget* parent);
    void show(gswarm::ObjectId object);
    gswarm::ObjectId object() const { return object_; }
    void showSpeed(bool on);
    /// What is drawn or could be, in the order of the names.
    std::vector<gswarm::Address> allNumbers() const;
    /// Where a key, or a handle of a free one, is drawn.
    QPointF placeOf(const gswarm::Address& number, const gswarm::Key& key) const;
    QPointF handleOf(const gswarm::Address& number, const gswarm::Key& key, bool arriving) const;

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    enum class Part { key, arriving, leaving };
    struct Grip {
        gswarm::Address number;
        double frame = 0;
        Part part = Part::key;
    };
    std::vector<gswarm::Address> numbers() const;  ///< those that are shown
    void fit();
    void measure();
    void paintFastest(QPainter& painter, const gswarm::Address& number, double frame, double slope) const;
    double yOf(double value) const;
    double valueAt(double y) const;
    double frameAt(double x) const;
    QRectF plot() const;
    std::optional<Grip> gripAt(const QPointF& at) const;
    const gswarm::Key* keyOf(const Grip& grip) const;
    void paintCurve(QPainter& painter, const gswarm::Address& number, const QColor& colour) const;

    Document& document_;
    TimeRows& rows_;
    gswarm::ObjectId object_;
    std::vector<gswarm::Address> hidden_;
    bool speed_ = true;
    double low_ = 0, high_ = 1;    ///< values at the lower and upper edge
    bool fitted_ = true;           ///< the edges follow the values
    std::optional<double> moved_;  ///< pixels from the top, where the values were taken hold of
    std::optional<Grip> grip_;
    gswarm::CopiedKeys copied_;
};
