#pragma once
#include <QPointF>
#include <QString>
#include <vector>

#include "app/picture/view_camera.h"
#include "core/edit/edit.h"
#include "core/flow/plan.h"

class QPainter;

/// The handles of one thing in the picture: a zone's, a warp's, a placed pattern's, a symmetry's and a swarm's place, turn and size, and
/// the points of a path. They compute places and edits; the picture passes the mouse on.
namespace handles {

enum class Mode { move, turn, size };

struct Handle {
    QString name;     ///< "x", "y", "z", "free", "radius", "softEdge", "scale", "point 2" …
    glm::vec3 place;  ///< world
    glm::vec3 along;  ///< unit direction that a drag follows, world; zero for a free move or a turn
    std::string parameter;
    int component = -1;   ///< of the number, or which of the points
    double perMetre = 1;  ///< change of the number for one metre along the drag
};

/// What the handles stand on: where the thing is and how it is turned, in the world; a path's swarm also sizes it.
gswarm::WorldPose poseOf(const gswarm::Scene& scene, gswarm::ObjectId object, double frame, gswarm::Store& store);
/// False for things without a place.
bool hasHandles(const gswarm::Scene& scene, gswarm::ObjectId object);
std::vector<Handle> handlesOf(const gswarm::Scene& scene, gswarm::ObjectId object, double frame, Mode mode, float reach,
                              gswarm::Store& store);

/// A handle that is being dragged: what there was when the drag began.
struct Drag {
    gswarm::ObjectId object;
    Handle handle;
    QPointF from;                 ///< pixels
    std::vector<double> numbers;  ///< the parameter's numbers as typed; of a path, the point's three
};
/// The scene with the handle at another pixel.
gswarm::Edit edited(const gswarm::Scene& scene, const Drag& drag, QPointF to, double frame, const ViewCamera& view, QSizeF viewport,
                    Mode mode, gswarm::Store& store);
Drag begin(const gswarm::Scene& scene, gswarm::ObjectId object, const Handle& handle, QPointF from, double frame);

/// Fine contour lines of the zone's surface and of its core, as world polylines.
std::vector<std::vector<glm::vec3>> contours(const gswarm::Scene& scene, gswarm::ObjectId zone, double frame, bool core,
                                             gswarm::Store& store);
/// The axis of a gesture that warps space, with its limits or its radius; empty for other things.
std::vector<std::vector<glm::vec3>> warpLines(const gswarm::Scene& scene, gswarm::ObjectId gesture, double frame, gswarm::Store& store);
/// The rectangle of a gesture's pattern that has a place of its own; empty for other things.
std::vector<std::vector<glm::vec3>> patternLines(const gswarm::Scene& scene, gswarm::ObjectId gesture, double frame, gswarm::Store& store);
/// The planes or the axis of a symmetry, `reach` metres wide; empty for other things.
std::vector<std::vector<glm::vec3>> symmetryLines(const gswarm::Scene& scene, gswarm::ObjectId symmetry, double frame, float reach,
                                                  gswarm::Store& store);
/// The outline of a lamp that is on, as world polylines.
std::vector<std::vector<glm::vec3>> lampLines(const gswarm::Scene& scene, gswarm::ObjectId light, double frame, gswarm::Store& store);
/// Places of a keyed zone, one a frame.
std::vector<glm::vec3> path(const gswarm::Scene& scene, gswarm::ObjectId zone, int first, int last, gswarm::Store& store);

}  // namespace handles
