#pragma once
#include <QPointF>
#include <QString>
#include <vector>

#include "app/picture/view_camera.h"
#include "core/evaluate/plan.h"
#include "core/scene/edit.h"

class QPainter;

/// The handles of one zone in the picture: moving, turning and sizing. They compute places and edits; the picture
/// passes the mouse on.
namespace zone_handles {

enum class Mode { move, turn, size };

struct Handle {
    QString name;     ///< "x", "y", "z", "free", "radius", "softEdge" …
    glm::vec3 place;  ///< world
    glm::vec3 along;  ///< unit direction that a drag follows, world; zero for a free move or a turn
    std::string parameter;
    int component = -1;
    double perMetre = 1;  ///< change of the number for one metre along the drag
};

std::vector<Handle> handlesOf(const gswarm::Scene& scene, gswarm::ObjectId zone, double frame, Mode mode, float reach);

/// The value of the handle's number (or the place) after a drag that began at `begun`, in pixels.
struct Drag {
    gswarm::ObjectId zone;
    Handle handle;
    QPointF from;
    gswarm::ZoneState begun;
    std::vector<double> numbers;  ///< the parameter's numbers when the drag began, as typed
};
gswarm::Edit edited(const gswarm::Scene& scene, const Drag& drag, QPointF to, double frame, const ViewCamera& view, QSizeF viewport,
                    Mode mode);

/// Fine contour lines of the zone's surface and of its core, as world polylines.
std::vector<std::vector<glm::vec3>> contours(const gswarm::Scene& scene, gswarm::ObjectId zone, double frame, bool core);
/// Places of a keyed zone, one a frame.
std::vector<glm::vec3> path(const gswarm::Scene& scene, gswarm::ObjectId zone, int first, int last);

}  // namespace zone_handles
