#pragma once
#include <QFrame>

#include "core/edit/material_edits.h"

class QGridLayout;
class QToolButton;
class SmallPictures;

/// Materials to choose from: those of the project, and those that every project can begin with, by small traced pictures.
class MaterialGallery : public QFrame {
    Q_OBJECT

  public:
    explicit MaterialGallery(QWidget* parent);
    /// Opens beside a widget; `current` is the one that is in use, or none.
    void open(const gswarm::Scene& scene, gswarm::ObjectId current, QWidget* beside);

  signals:
    void startTaken(const gswarm::MaterialStart* start);
    void materialTaken(gswarm::ObjectId material);

  private:
    QToolButton* tile(const QString& name, const QString& label, const QString& tip, bool current);

    SmallPictures* pictures_;
    QWidget* own_ = nullptr;
};
