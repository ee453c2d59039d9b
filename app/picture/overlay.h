#pragma once
#include <optional>
#include <QPen>
#include <QSizeF>
#include <vector>

#include "app/document/evaluation.h"
#include "app/picture/handles.h"
#include "app/picture/view_camera.h"

class Document;
class QPainter;

/// What is painted over the picture: lines, zones, handles, numbers and the outlines of chosen instances. Painting only;
/// the picture decides what is shown.
namespace overlay {

struct Over {
    QPainter& painter;
    const Document& document;
    const ViewCamera& view;
    QSizeF viewport;
};

/// Ivory with an ink shadow all around, readable on any picture.
void paintText(QPainter& painter, QPointF at, const QString& text);
void paintLine(const Over& over, const std::vector<glm::vec3>& places, const QPen& pen);
/// Contour lines of surface and core, and one dot a frame along its way if it is keyed.
void paintZone(const Over& over, gswarm::ObjectId zone, const gswarm::ZoneLines& surface, const gswarm::ZoneLines& core, bool chosen);
/// The solids as which chosen instances meet others; of very many some.
void paintColliders(const Over& over, const std::vector<gswarm::ZoneLines>& colliders, const gswarm::Result& result,
                    const std::vector<std::uint32_t>& rows);
/// Where the shown forces take things.
void paintForces(const Over& over, const Evaluated& evaluated);
/// The outlines of lamps that are on, and of those that a swarm repeats; it may be null.
void paintLamps(const Over& over, const std::shared_ptr<const gswarm::Result>& swarm);
/// Of the gesture whose handles are shown.
void paintWarp(const Over& over);
/// Cameras that the view does not look through: what they see, up to where they look.
void paintCameras(const Over& over);
/// The frame of the pictures that are made; with the areas that every screen shows, 93 % for action and 90 % for writing (SMPTE
/// ST 2046-1), if they are wanted.
void paintFrame(const Over& over, bool safeAreas);
/// Dims what lies outside the output frame.
void paintOutside(const Over& over);
/// The curves of some shapes that are seen for themselves, also where instances hide them.
void paintCurves(const Over& over, const Evaluated& evaluated, const std::vector<gswarm::ObjectId>& shapes);
void paintHandles(const Over& over, const std::vector<handles::Handle>& handles, handles::Mode mode, const QString& held);
void paintNumbers(const Over& over, const gswarm::Result& result);
/// An ivory line inside an ink line around each; of many, a dot in the middle of each.
void paintChosen(const Over& over, const gswarm::Result& result, const std::vector<std::uint32_t>& rows);
/// The nine values over their pictures.
void paintVariations(const Over& over, const Evaluated& evaluated, int under);
/// Long work: what is made, and how far it is.
void paintWork(QPainter& painter, const QRectF& box, const QString& work, double done);

}  // namespace overlay
