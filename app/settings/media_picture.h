#pragma once
#include <QImage>
#include <QPointF>
#include <QWidget>
#include <vector>

#include "app/document/document.h"

class QLabel;
class SmallPictures;

/// What media show at the frame, small, and a sentence on what they are or why they can't be shown. Worked out beside the window.
class MediaPicture : public QWidget {
    Q_OBJECT

  public:
    MediaPicture(Document& document, gswarm::ObjectId media, QWidget* parent);
    /// Dots on it, where instances read it: (0, 0) is its lower left corner.
    void showPlaces(std::vector<QPointF> places);

  private:
    void ask();
    void take(const QImage& picture);
    void paintPicture();

    Document& document_;
    gswarm::ObjectId media_;
    QLabel *picture_, *told_;
    SmallPictures* maker_;
    QImage shown_;
    std::vector<QPointF> places_;
    int asked_ = 0;
    bool busy_ = false, again_ = false;
};
