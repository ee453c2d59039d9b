#pragma once
#include <memory>
#include <optional>
#include <QImage>
#include <QObject>
#include <QTimer>

#include "app/picture/traced_thread.h"
#include "app/picture/view_camera.h"

class Document;
class Evaluation;
class QPainter;
class QWidget;

/// The traced picture in the view: beside the live one across a divider, whole or a part of it, and against one that was kept.
/// It is renewed by every change and holds still while one is made.
class TracedView : public QObject {
    Q_OBJECT

  public:
    TracedView(Document& document, Evaluation& evaluation, QWidget* view);

    bool shown() const { return shown_; }
    void setShown(bool shown);
    /// Traces what the view shows from this camera; `held` is the scene's own camera that it looks through, if it does.
    void renew(const ViewCamera& camera, gswarm::ObjectId held);
    /// Whether the live picture can be seen beside it.
    bool showsLive() const;

    void paint(QPainter& painter) const;
    /// The mouse: true where it was for the divider or the part that is traced.
    bool press(QPointF at);
    bool move(QPointF at);
    bool release();
    bool onDivider(QPointF at) const;

    const TracedState& state() const { return state_; }
    const QImage& picture() const { return picture_; }
    double divider() const { return divider_; }
    void setDivider(double share);
    bool filters() const { return filters_; }
    void setFilters(bool on);
    int samples() const { return samples_; }
    void setSamples(int samples);
    /// The next drag in the view frames what is traced; without one all is.
    void frameRegion();
    bool framesRegion() const { return framing_; }
    void clearRegion();
    bool hasRegion() const { return !region_.isEmpty(); }
    void keep();
    bool hasKept() const { return !kept_.isNull(); }
    /// Shows the kept picture on the right of the divider instead of the live one.
    void compareWithKept(bool on);
    bool comparesWithKept() const { return comparing_; }
    bool settled() const { return !thread_.busy(); }

  signals:
    void changed();
    void renewAsked();  ///< the view is to call renew
    void trouble(const QString& sentence);

  private:
    void pause();
    void take(const QImage& picture, const TracedState& state);
    double dividerX() const;
    QRect regionPixels(QSize pixels) const;

    Document& document_;
    Evaluation& evaluation_;
    QWidget* view_;
    TracedThread thread_;
    QTimer rest_;  ///< while frames go by, the live picture is shown
    bool shown_ = false, filters_ = true, framing_ = false, comparing_ = false, dragging_ = false, stale_ = true;
    int samples_ = 512;
    double divider_ = 1;                  ///< share of the width that is traced
    QRectF region_;                       ///< as shares of the view; all for an empty one
    std::optional<QPointF> regionStart_;  ///< while it is framed
    QImage picture_, kept_;
    TracedState state_;
    std::shared_ptr<gswarm::Evaluator> evaluator_;  ///< for the moments of an open shutter
};
