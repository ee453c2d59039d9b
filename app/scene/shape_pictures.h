#pragma once
#include <memory>
#include <QImage>
#include <QObject>

#include "core/shape/shape_kind.h"

/// A small traced picture of a shape as a kind makes it at first; null where it can't be made, as of a file that is not chosen.
QImage pictureOf(const gswarm::ShapeKind& kind, QSize pixels, gswarm::Progress& progress);

/// Makes the pictures of all kinds of shapes beside the window, once.
class ShapePictures : public QObject {
    Q_OBJECT

  public:
    ShapePictures(QSize pixels, QObject* parent);
    ~ShapePictures() override;
    void start();

  signals:
    void made(const QString& kind, const QImage& picture);

  private:
    struct Maker;
    QSize pixels_;
    std::unique_ptr<Maker> maker_;
};
