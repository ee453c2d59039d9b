#pragma once
#include <filesystem>
#include <functional>
#include <QFrame>
#include <vector>

#include "core/scene/kind.h"

class OwnStartsRow;
class SmallPictures;

/// What can be added to the scene, under the (+) of its list: a few things by name, every shape and every swarm that was kept by
/// its picture.
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
    void ownTaken(const std::filesystem::path& path);

  private:
    SmallPictures* pictures_;
    OwnStartsRow* own_;
};
