#pragma once
#include <optional>
#include <QWidget>
#include <vector>

#include "app/document/document.h"
#include "core/edit/key_edits.h"

class SoundWaves;

/// Ruler and rows of the time panel: the playhead, one bar per gesture from its first start to its last end with its keys,
/// and under each gesture or object one row for every keyed number. Keys are chosen by clicks and by a band, dragged,
/// stretched with Alt, copied and pasted.
class TimeRows : public QWidget {
    Q_OBJECT

  public:
    /// With the waves of sounds under the ruler.
    TimeRows(Document& document, const SoundWaves& waves, QWidget* parent);
    double xOf(double frame) const;

    struct Row {
        gswarm::ObjectId object;
        std::optional<gswarm::Address> number;  ///< none for the row of the object itself
        double from = 0, to = 0;                ///< the bar; equal for none
        std::vector<double> keys;               ///< frames
    };
    std::vector<Row> rows() const;
    QRectF rowRect(int row) const;
    const std::vector<gswarm::KeyPlace>& chosenKeys() const { return chosen_; }
    void chooseKeys(std::vector<gswarm::KeyPlace> keys);
    /// Frames whose follow-through is made already, for the thin line in the ruler; empty where nothing remembers.
    void showReady(int first, std::vector<bool> ready);

    /// Pixels of what stands above the rows: the ruler, and under it the waves of sounds where there are any.
    int headHeight() const;
    /// The frame behind a place that something is dragged to: a whole one, or that of an onset close by.
    double snappedFrameAt(double x) const;

    static constexpr int rulerHeight = 24, waveHeight = 30;

  signals:
    void headChanged();
    void scrubbed(double frame);
    void curvesAsked(gswarm::ObjectId object);

  protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    double frameAt(double x) const;
    double placeAt(double x) const;  ///< not rounded
    const Row* rowAt(double y, const std::vector<Row>& rows) const;
    std::vector<gswarm::KeyPlace> keysAt(const QPointF& at, const std::vector<Row>& rows) const;
    std::vector<gswarm::KeyPlace> keysOf(const Row& row, double frame) const;
    std::vector<gswarm::KeyPlace> keysIn(const QRectF& band) const;
    bool chosen(const gswarm::KeyPlace& key) const;
    void refresh();
    void refreshHead();
    void scrub(double x);
    void moveChosen(double by);
    void paintRuler(QPainter& painter) const;
    void paintRow(QPainter& painter, const Row& row, const QRectF& box) const;
    void paintHead(QPainter& painter) const;

    Document& document_;
    const SoundWaves& waves_;
    int head_ = 0;
    std::vector<gswarm::KeyPlace> chosen_;
    gswarm::CopiedKeys copied_;
    enum class Does { nothing, scrubs, moves, stretches, bands } does_ = Does::nothing;
    QPointF pressed_, now_;
    double grabbed_ = 0;  ///< frame of the key that was grabbed, where it is now
    std::vector<bool> ready_;
    int readyFirst_ = 0;
};
