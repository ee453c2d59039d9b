#pragma once
#include <functional>
#include <QFrame>
#include <vector>

#include "core/scene/kind.h"

class ShapePictures;

/// What can be added to the scene, under the (+) of its list: a few things by name, and every shape by its picture.
class AddGallery : public QFrame {
    Q_OBJECT

  public:
    struct Thing {
        QString id, label, tip, icon;
        std::function<void()> add;
    };
    AddGallery(std::vector<Thing> things, QWidget* parent);
    /// Opens below a place on the screen.
    void open(const QPoint& global);

  signals:
    void shapeTaken(const gswarm::Kind* kind);

  private:
    ShapePictures* pictures_;
};
