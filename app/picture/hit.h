#pragma once
#include <optional>
#include <QPolygonF>
#include <QRectF>

#include "app/document/evaluation.h"
#include "app/picture/view_camera.h"

/// What of an evaluation lies under the pointer. Pixels of a viewport of that size.
namespace hit {

struct Instance {
    gswarm::ObjectId swarm, shape;  ///< the shape that it repeats
    std::uint32_t row = 0;
};
/// The shown instance nearest to the eye whose outline is under the pixel.
std::optional<Instance> instanceAt(const Evaluated& evaluated, const ViewCamera& view, QSizeF viewport, QPointF pixel);
/// Rows of the shown instances whose middle, or that of one of their copies, is inside the rectangle.
std::vector<std::uint32_t> instancesIn(const gswarm::Result& result, const ViewCamera& view, QSizeF viewport, const QRectF& rect);
/// A shape that is seen for itself.
gswarm::ObjectId backdropAt(const Evaluated& evaluated, const ViewCamera& view, QSizeF viewport, QPointF pixel);

/// The middles of those of some instances that are shown, on screen, with those of their copies.
QPolygonF middlesOf(const gswarm::Result& result, const std::vector<std::uint32_t>& rows, const ViewCamera& view, QSizeF viewport);

/// The outlines of one shown instance and its copies by symmetry on screen: the hulls of their boxes, without those behind the eye.
std::vector<QPolygonF> outlinesOf(const gswarm::Result& result, std::uint32_t row, const ViewCamera& view, QSizeF viewport);

}  // namespace hit
