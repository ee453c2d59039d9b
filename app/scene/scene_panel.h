#pragma once
#include <QWidget>

#include "app/document/document.h"

class AddGallery;
class QLineEdit;
class QToolButton;
class SceneList;

/// The scene list with the line that filters it and the (+) that adds anything to the scene.
class ScenePanel : public QWidget {
    Q_OBJECT

  public:
    ScenePanel(Document& document, QWidget* parent);
    SceneList& list() { return *list_; }
    /// What can be added, under the (+).
    void openGallery();
    void addShape(const gswarm::Kind& kind);
    void addLight(const gswarm::Kind& kind);
    void addMedia(const gswarm::Kind& kind);
    void addSound(const gswarm::Kind& kind);
    void addForce(const gswarm::Kind& kind);
    void groupSelected();

  signals:
    /// Another camera, where the view is.
    void cameraAsked();

  private:
    /// One of a family from a menu; null for none.
    const gswarm::Kind* askKind(gswarm::Family family);
    void openLights();
    void openMedia();
    void openSounds();
    void openForces();

    Document& document_;
    SceneList* list_;
    QLineEdit* filter_;
    QToolButton* add_;
    AddGallery* gallery_ = nullptr;
};
