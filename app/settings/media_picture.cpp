#include "app/settings/media_picture.h"

#include <algorithm>
#include <QImage>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <utility>

#include "app/scene/small_pictures.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/picture/view.h"
#include "core/provide/media.h"

using namespace gswarm;

namespace {

constexpr int mostAcross = 276, mostHigh = 150;
constexpr const char* sentence = "sentence";

/// Every so many pixels, which is enough to know it by.
QImage smallOf(const MediaFrame& frame) {
    const QSize size = QSize(frame.width, frame.height).scaled(mostAcross, mostHigh, Qt::KeepAspectRatio).expandedTo({1, 1});
    QImage image(size, QImage::Format_RGB888);
    for (int y = 0; y < size.height(); ++y)
        for (int x = 0; x < size.width(); ++x) {
            const float u = (static_cast<float>(x) + 0.5f) / static_cast<float>(size.width());
            const float v = 1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height());
            const glm::vec3 shown = display(glm::vec3(smoothPixel(frame, u, v, PictureEdges::hold)), 1, DisplayTransform::soft);
            image.setPixelColor(x, y, QColor::fromRgbF(shown.x, shown.y, shown.z));
        }
    return image;
}

}  // namespace

MediaPicture::MediaPicture(Document& document, ObjectId media, QWidget* parent)
    : QWidget(parent),
      document_(document),
      media_(media),
      picture_(new QLabel(this)),
      told_(new QLabel(this)),
      maker_(new SmallPictures(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 4);
    column->setSpacing(4);
    picture_->setObjectName("mediaPicture");
    picture_->setAlignment(Qt::AlignHCenter);
    picture_->setMinimumHeight(24);
    told_->setObjectName("mediaTold");
    told_->setWordWrap(true);
    column->addWidget(picture_);
    column->addWidget(told_);
    connect(maker_, &SmallPictures::made, this, [this](const QString& key, const QImage& picture) {
        take(picture);
        maker_->forget(key);
        busy_ = false;
        if (std::exchange(again_, false)) ask();
    });
    connect(&document_, &Document::sceneChanged, this, &MediaPicture::ask);
    connect(&document_, &Document::frameChanged, this, &MediaPicture::ask);
    ask();
}

void MediaPicture::ask() {
    const Object* object = document_.scene().find(media_);
    if (!object) return;
    // One at a time, and then the latest: frames may come faster than pictures are read.
    if (busy_) {
        again_ = true;
        return;
    }
    busy_ = true;
    maker_->ask(QString::number(++asked_), [scene = document_.scene(), media = media_, frame = document_.frame(),
                                            folder = document_.folder(), &store = document_.store()](Progress&) {
        QImage image;
        try {
            image = smallOf(*mediaAt(scene, media, frame, folder, store));
        } catch (const Error&) {
            image = QImage(1, 1, QImage::Format_RGB888);
        }
        image.setText(sentence, QString::fromStdString(mediaTold(scene, media, frame, folder, store)));
        return image;
    });
}

void MediaPicture::showPlaces(std::vector<QPointF> places) {
    if (places == places_) return;
    places_ = std::move(places);
    paintPicture();
}

void MediaPicture::paintPicture() {
    if (shown_.isNull()) return;
    QPixmap pixmap = QPixmap::fromImage(shown_);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    // Seen on what is bright and on what is dark.
    painter.setPen(QPen(QColor(0, 0, 0, 170), 1));
    painter.setBrush(theme::ivory);
    const double radius = places_.size() > 400 ? 1.2 : 2.2;
    for (const QPointF& place : places_)
        if (place.x() >= 0 && place.x() <= 1 && place.y() >= 0 && place.y() <= 1)
            painter.drawEllipse(QPointF(place.x() * (pixmap.width() - 1), (1 - place.y()) * (pixmap.height() - 1)), radius, radius);
    picture_->setPixmap(pixmap);
}

void MediaPicture::take(const QImage& picture) {
    const bool there = picture.width() > 1;
    picture_->setVisible(there);
    shown_ = there ? picture : QImage();
    paintPicture();
    told_->setText(picture.text(sentence));
    told_->setStyleSheet("color: " + (there ? theme::quiet : theme::coral).name() + ";");
}
