#pragma once
#include <QImage>
#include <QSize>

#include "core/base/progress.h"
#include "core/scene/scene.h"

namespace gswarm {
struct KeptStart;
struct MaterialStart;
struct ShapeKind;
}  // namespace gswarm

/// Small traced pictures for galleries, on the colour of the panels they stand on. Null where nothing is seen; throw Error where
/// one can't be made, as of a shape from a file that is not chosen, and Cancelled.

/// Their size on a tile of a gallery.
inline constexpr QSize tilePicture{88, 60};

/// A shape as its kind makes it at first.
QImage pictureOf(const gswarm::ShapeKind& kind, QSize pixels, gswarm::Progress& progress);
/// A material on a ball and the floor before it, under a lamp.
QImage pictureOf(const gswarm::MaterialStart& start, QSize pixels, gswarm::Progress& progress);
QImage pictureOf(const gswarm::Scene& scene, gswarm::ObjectId material, const std::filesystem::path& projectFolder, QSize pixels,
                 gswarm::Progress& progress);
/// Differs once that would be another picture.
QString pictureKey(const gswarm::Scene& scene, gswarm::ObjectId material);
/// What was kept in a folder, as its own swarm shows it some way into its frames; a zone by the colour of what it weighs.
QImage pictureOf(const gswarm::KeptStart& start, const std::filesystem::path& folder, QSize pixels, gswarm::Progress& progress);
