#pragma once
#include <filesystem>
#include <QFrame>

#include "core/edit/material_edits.h"

class QGridLayout;
class QToolButton;
class OwnStartsRow;
class SmallPictures;

/// Materials to choose from: those of the project, those that every project can begin with, and those that a person kept, by small traced
/// pictures.
class MaterialGallery : public QFrame {
    Q_OBJECT

  public:
    explicit MaterialGallery(QWidget* parent);
    /// Opens beside a widget; `current` is the one that is in use, or none.
    /// `projectFolder` has the pictures of the project's own.
    void open(const gswarm::Scene& scene, gswarm::ObjectId current, const std::filesystem::path& projectFolder, QWidget* beside);

  signals:
    void startTaken(const gswarm::MaterialStart* start);
    void materialTaken(gswarm::ObjectId material);
    void ownTaken(const std::filesystem::path& path);

  private:
    QToolButton* tile(const QString& name, const QString& label, const QString& tip, bool current);

    SmallPictures* pictures_;
    QWidget* ofProject_ = nullptr;
    OwnStartsRow* own_;
};
