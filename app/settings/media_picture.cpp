#include "app/settings/media_picture.h"

#include <algorithm>
#include <QPainter>

#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/picture/display.h"
#include "core/provide/media.h"

using namespace gswarm;

namespace {

/// Every so many pixels, which is enough to know it by.
QImage smallOf(const MediaFrame& frame) {
    const QSize size = QSize(frame.width(), frame.height())
                           .scaled(MomentPicture::mostAcross, MomentPicture::mostHigh, Qt::KeepAspectRatio)
                           .expandedTo({2, 1});
    QImage image(size, QImage::Format_RGB888);
    for (int y = 0; y < size.height(); ++y)
        for (int x = 0; x < size.width(); ++x) {
            const float u = (static_cast<float>(x) + 0.5f) / static_cast<float>(size.width());
            const float v = 1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height());
            const glm::vec3 shown =
                display(glm::vec3(frame.with([&](const auto& pixels) { return smoothPixel(pixels, u, v, PictureEdges::hold); })), 1,
                        DisplayTransform::soft);
            image.setPixelColor(x, y, QColor::fromRgbF(shown.x, shown.y, shown.z));
        }
    return image;
}

}  // namespace

MediaPicture::MediaPicture(Document& document, ObjectId media, QWidget* parent)
    : MomentPicture(
          document, media,
          [&store = document.store()](const Moment& moment, Progress&) {
              Told told;
              try {
                  told.picture = smallOf(*mediaAt(moment.scene, moment.thing, moment.frame, moment.folder, store));
              } catch (const Error&) {
                  // The sentence says why.
              }
              told.sentence = QString::fromStdString(mediaTold(moment.scene, moment.thing, moment.frame, moment.folder, store));
              return told;
          },
          parent) {
    setNames("mediaPicture", "mediaTold");
}

void MediaPicture::showPlaces(std::vector<QPointF> places) {
    if (places == places_) return;
    places_ = std::move(places);
    paintAgain();
}

QPixmap MediaPicture::painted(const QImage& picture) const {
    QPixmap pixmap = QPixmap::fromImage(picture);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    // Seen on what is bright and on what is dark.
    painter.setPen(QPen(QColor(0, 0, 0, 170), 1));
    painter.setBrush(theme::ivory);
    const double radius = places_.size() > 400 ? 1.2 : 2.2;
    for (const QPointF& place : places_)
        if (place.x() >= 0 && place.x() <= 1 && place.y() >= 0 && place.y() <= 1)
            painter.drawEllipse(QPointF(place.x() * (pixmap.width() - 1), (1 - place.y()) * (pixmap.height() - 1)), radius, radius);
    return pixmap;
}
