#pragma once
#include <map>
#include <optional>
#include <QImage>
#include <QTimer>
#include <QWidget>

#include "app/picture/handles.h"
#include "app/picture/hit.h"
#include "app/picture/view_camera.h"
#include "app/picture/view_thread.h"

class Document;
class Evaluation;
class Banner;
class TracedView;
class QPushButton;
class VariationBar;
class ViewChoices;

/// The live picture: shows what the view thread drew, paints handles and overlays over it, and passes the mouse on to
/// the view and the handles.
class Picture : public QWidget {
    Q_OBJECT

  public:
    Picture(Document& document, Evaluation& evaluation, QWidget* parent);

    /// Right-drag turns, shift-right-drag or middle moves, the wheel zooms to the pointer.
    const ViewCamera& view() const { return view_; }
    void setView(const ViewCamera& view);
    /// Frames what is chosen, or everything.
    void frameChoice();
    /// The camera that is selected, else the one that pictures are made from at this frame.
    gswarm::ObjectId camera() const;
    void lookThroughCamera();
    /// Puts the camera where the view is.
    void cameraFromView();
    handles::Mode handleMode() const;
    void setHandleMode(handles::Mode mode);
    void showWeights(bool on);
    void showNumbers(bool on);
    bool showsWeights() const;
    /// Where a handle of the shown zone is in the widget, for tests and tours; empty if it is not shown.
    std::optional<QPointF> handlePlace(const QString& name) const;
    bool upToDate() const;
    /// Why there is no picture; empty if there is one.
    QString problem() const { return problem_; }
    /// The traced picture over the live one, in the work view Look.
    TracedView& traced() { return *traced_; }
    /// What lies outside the output frame is dimmed, in the work view Export.
    void setFramed(bool on);
    double lastDrawMilliseconds() const { return drawMilliseconds_; }
    /// What the view leaves out while something moves, as measured at the start; empty where it leaves out nothing.
    QString leftOutWhileMoving() const;

  signals:
    void shown();
    /// A right click asks for what can be done with what is selected.
    void menuAsked(const QPoint& global);

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

  private:
    /// How much care a picture takes: coarse while the view moves, fine once nothing happens any more.
    enum class Care { coarse, normal, fine };
    void requestDraw(Care care);
    gswarm::live::Steps stepsFor(Care care) const;
    void renewTraced();
    bool tracedSeen() const;
    void adapt(int pixelsWide, double milliseconds);
    void updateWeights();
    glm::dvec3 placeAt(QPointF pixel) const;
    /// The view was moved by hand: the camera goes along while it is held to the view.
    void viewMoved();
    /// Frames swarms that came into the scene, or took another formation or symmetry, where they lie outside the view.
    void frameArrivals();
    float reach(gswarm::ObjectId zone) const;
    std::vector<handles::Handle> handles() const;
    void placeBars();
    bool varying() const;
    int tileAt(QPointF pixel) const;
    void keepVariation(int tile);
    const std::vector<std::uint32_t>& markedRows(const gswarm::Result& result);
    bool showsHandles() const;
    void paintOverlays(QPainter& painter);
    std::optional<hit::Instance> instanceAt(QPointF pixel) const;
    gswarm::ObjectId backdropAt(QPointF pixel) const;
    gswarm::ObjectId lampMarkAt(QPointF pixel) const;
    gswarm::ObjectId objectAt(QPointF pixel) const;
    void askMenu(QPointF pixel);
    gswarm::ObjectId stockThatRepeats(gswarm::ObjectId swarm, gswarm::ObjectId shape) const;
    void chooseAt(QPointF pixel, bool add);
    void chooseInBand(bool add);
    void showWork(const QString& what, double fraction);
    gswarm::ZoneLines contours(gswarm::ObjectId zone, bool core) const;
    std::vector<gswarm::ObjectId> curvesToShow() const;

    Document& document_;
    Evaluation& evaluation_;
    ViewThread thread_;
    ViewCamera view_;
    QImage image_;
    QString problem_;
    QTimer settle_;
    bool whole_ = false;           ///< the picture that was asked for last needs no finer one
    double drawMilliseconds_ = 0;  ///< of a picture at full size, estimated from the last one
    /// By how long a picture takes without them: what has its shadows at once, at rest, and four samples a pixel at rest.
    static constexpr double soonMilliseconds = 90, restMilliseconds = 250, samplesMilliseconds = 40;
    bool hasTimeForSamples() const { return drawMilliseconds_ < samplesMilliseconds; }
    gswarm::live::Steps moving_{false, false, false, false};
    double coarseShare_ = 1;  ///< of the full width and height
    bool framedOnce_ = false;
    bool framed_ = false;  ///< what lies outside the output frame is dimmed
    struct Stands {
        const gswarm::Kind* formation;
        std::vector<gswarm::ObjectId> symmetries;
        bool operator==(const Stands&) const = default;
    };
    using Standing = std::map<gswarm::ObjectId, Stands>;
    std::optional<Standing> known_;  ///< when arrivals were looked at last
    std::optional<handles::Drag> drag_;
    QPointF last_, pressed_;
    bool leftHeld_ = false;  ///< pressed on no handle: a click or a band to choose instances
    QRectF band_;
    int tileUnder_ = -1;  ///< the variation under the pointer
    VariationBar* variationBar_;
    Banner* banner_;
    std::vector<std::uint32_t> rows_;  ///< of the chosen instances that are marked, for the result with these homes
    bool rowsKnown_ = false;
    std::uint64_t rowsHash_ = 0;
    int rowsCount_ = 0;
    QString work_;  ///< what is being made, while that takes long
    double workDone_ = 0;
    QPushButton* stop_;
    ViewChoices* choices_;
    TracedView* traced_;
};
