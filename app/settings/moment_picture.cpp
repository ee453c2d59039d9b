#include "app/settings/moment_picture.h"

#include <QLabel>
#include <QVBoxLayout>
#include <utility>

#include "app/scene/small_pictures.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr const char* sentence = "sentence";

}  // namespace

MomentPicture::MomentPicture(Document& document, ObjectId thing, Draw draw, QWidget* parent)
    : QWidget(parent),
      document_(document),
      thing_(thing),
      draw_(std::move(draw)),
      picture_(new QLabel(this)),
      told_(new QLabel(this)),
      maker_(new SmallPictures(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 4);
    column->setSpacing(4);
    picture_->setAlignment(Qt::AlignHCenter);
    picture_->setMinimumHeight(24);
    told_->setWordWrap(true);
    column->addWidget(picture_);
    column->addWidget(told_);
    connect(maker_, &SmallPictures::made, this, [this](const QString& key, const QImage& picture) {
        take(picture);
        maker_->forget(key);
        busy_ = false;
        if (std::exchange(again_, false)) ask();
    });
    connect(&document_, &Document::sceneChanged, this, &MomentPicture::ask);
    connect(&document_, &Document::frameChanged, this, &MomentPicture::ask);
    ask();
}

void MomentPicture::setNames(const QString& picture, const QString& told) {
    picture_->setObjectName(picture);
    told_->setObjectName(told);
}

void MomentPicture::ask() {
    if (!document_.scene().find(thing_)) return;
    // One at a time, and then the latest: frames may come faster than pictures are made.
    if (busy_) {
        again_ = true;
        return;
    }
    busy_ = true;
    maker_->ask(QString::number(++asked_),
                [moment = Moment{document_.scene(), thing_, document_.frame(), document_.folder()}, draw = draw_](Progress& progress) {
                    const Told told = draw(moment, progress);
                    QImage image = told.picture.isNull() ? QImage(1, 1, QImage::Format_RGB888) : told.picture;
                    image.setText(sentence, told.sentence);
                    return image;
                });
}

void MomentPicture::paintAgain() {
    if (!shown_.isNull()) picture_->setPixmap(painted(shown_));
}

void MomentPicture::take(const QImage& picture) {
    const bool there = picture.width() > 1;
    picture_->setVisible(there);
    shown_ = there ? picture : QImage();
    paintAgain();
    told_->setText(picture.text(sentence));
    told_->setStyleSheet("color: " + (there ? theme::quiet : theme::coral).name() + ";");
}
