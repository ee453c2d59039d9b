#pragma once
#include <QPointF>
#include <vector>

#include "app/settings/moment_picture.h"

/// What media show at the frame.
class MediaPicture : public MomentPicture {
    Q_OBJECT

  public:
    MediaPicture(Document& document, gswarm::ObjectId media, QWidget* parent);
    /// Dots on it, where instances read it: (0, 0) is its lower left corner.
    void showPlaces(std::vector<QPointF> places);

  private:
    QPixmap painted(const QImage& picture) const override;

    std::vector<QPointF> places_;
};
